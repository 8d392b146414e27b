<div id="source-adds" @if ($oob) hx-swap-oob="true" @endif>
    @php($base = $sheet->definition['environments'][$sheet->environment->slug]['base'] ?? null)
    @if ($base === null)
        <p class="s">{{ $sheet->definition['name'] }} has no address in {{ $sheet->environment->name }}.</p>
    @else
        <p class="s mb-1">Before anything is sent: what every request carries.</p>
        <pre class="ev">GET {{ $base }}/…
@foreach ($sheet->definition['headers'] ?? [] as $header => $value){{ $header }}: {{ \App\Http\Sources\SchemeFields::text($value) }}
@endforeach
@foreach ($sheet->adds as $number => $lines)@foreach ($lines as $line){{ $line }}   ← {{ $number +
    1 }}. {{ \App\Http\Sources\SchemeFields::title($sheet->definition['access'][$number]['scheme'] ?? 'none') ?? '' }}
@endforeach @endforeach</pre>
    @endif
</div>
