<div id="source-faults" role="status" @if ($oob) hx-swap-oob="true" @endif>
    @foreach ($faults as $fault)
        @php($slug = preg_match('/^source\.environments\.([^.]+)\.base$/', $fault->path, $found) === 1 ? $found[1] : null)
        @php($offer = $slug === null ? null : \App\Http\Sheets\SourceForm::repaired((string) ($definition['environments'][$slug]['base'] ?? '')))
        <p class="fault mb-1">{{ ucfirst($fault->message) }} @if ($offer)<button type="button" class="btn small" data-fill="base-{{ $slug }}" data-value="{{ $offer }}">Take {{ $offer }}</button>@endif</p>
    @endforeach
    @if ($faults !== [])<p class="fault font-bold">Not saved yet: mend this first. What you typed stays.</p>@endif
</div>
