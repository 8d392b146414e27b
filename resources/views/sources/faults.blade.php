<div id="source-faults" role="status" @if ($oob) hx-swap-oob="true" @endif>
    @foreach ($sheet->faults as $fault)
        @php($slug = preg_match('/^source\.environments\.([^.]+)\.base$/', $fault->path, $found) === 1 ? $found[1] : null)
        @php($offer = $slug === null ? null : \DeepSpring\Access\BaseAddress::repaired((string) ($sheet->definition['environments'][$slug]['base'] ?? '')))
        <p class="fault mb-1">{{ $slug === null ? (string) $fault : ucfirst($fault->message) }} @if ($offer)<button type="button" class="btn small"
            data-fill="base-{{ $slug }}" data-value="{{ $offer }}">Take {{ $offer }}</button>@endif</p>
    @endforeach
    @if ($sheet->faults !== [])<p class="fault font-bold">Not saved yet: correct this first. What you typed stays.</p>@endif
</div>
