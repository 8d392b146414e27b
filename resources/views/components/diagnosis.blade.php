@props(['of', 'try' => null, 'sheet' => 'endpoint', 'target' => '#sheet'])
<div class="diagnosis" role="alert">
    <strong>{{ $of['what'] }}</strong> {{ $of['advice'] }}
    @if (($of['evidence'] ?? []) !== [] && $of['code'] !== 'outbound')<p class="m mt-1">@foreach (array_slice($of['evidence'], 0, 4) as $line)<span
        class="block">{{ mb_strimwidth($line, 0, 200, '…') }}</span>@endforeach</p>@endif
    @if ($try && $of['code'] === 'outbound' && isset($of['evidence'][0])) @can('administer')
        <p class="mt-2" data-slow><button type="button" class="btn go" id="allow" hx-post="{{ route('tries.allow', $try) }}" hx-swap="none"
            hx-disabled-elt="this">Allow {{ $of['evidence'][0] }}, and try again</button> <a class="ml-2"
            href="{{ route('outbound.index') }}">All that is allowed</a></p>
    @endcan @endif
    @if ($try && isset($of['repair']))
        <p class="mt-2" data-slow><button type="button" class="btn go" data-repair hx-post="{{ route('tries.repair', [$try, 0]) }}"
            hx-include="{{ $sheet === 'source' ? '#source-form' : '#sheet-form' }}" hx-vals='{"sheet": "{{ $sheet }}"}' hx-target="{{ $target }}"
            hx-swap="outerHTML" hx-disabled-elt="this">{{ $of['repair']['label'] }}</button></p>
    @endif
</div>
@foreach ($of['others'] ?? [] as $number => $other)
    <p class="s mb-1">{{ $other['sure'] === 'possible' ? 'Less likely' : 'Or' }}: {{ $other['what'] }} {{ $other['advice'] }}
        @if ($try && isset($other['repair']))<button type="button" class="link" hx-post="{{ route('tries.repair', [$try, $number + 1]) }}"
        hx-include="{{ $sheet === 'source' ? '#source-form' : '#sheet-form' }}" hx-vals='{"sheet": "{{ $sheet }}"}' hx-target="{{ $target }}"
        hx-swap="outerHTML">{{ $other['repair']['label'] }}</button>@endif</p>
@endforeach
