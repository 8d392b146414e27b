@php($cell = \App\View\FieldHistory::CELL)
<details class="mb-3" @if ($history->fields !== []) open @endif><summary
    class="s">Fields over the last {{ \App\View\Show::count(count($history->runs), 'run') }}</summary>
@if ($history->fields !== [])
<div class="scroll" tabindex="0" role="region" aria-label="Fields over time">
<svg class="history" width="{{ $history->width() }}" height="{{ $history->height() }}" role="img"
    aria-label="Which fields the records had in the last {{ \App\View\Show::count(count($history->runs), 'run') }}">
    @foreach ($history->runs as $number => $run)
        <text x="{{ 330 + $number * $cell + $cell / 2 }}" y="12" class="axis" text-anchor="middle">@if ($number === 0 || $number ===
            count($history->runs) - 1 || $number % 6 === 0){{ $run['run'] ??
            '·' }}@endif<title>run {{ $run['run'] }}, {{ $run['at'] }} UTC, {{ \App\View\Show::count($run['records'], 'record') }}</title></text>
    @endforeach
    @foreach ($history->fields as $line => $field)
        @php($y = 22 + $line * 20)
        <text x="0" y="{{ $y + 11 }}" class="m {{ $field['isChanged'] ? 'bad' : '' }}">{{ mb_strimwidth($field['path'], 0, 34,
            '…') }}<title>{{ $field['path'] }}</title></text>
        <text x="320" y="{{ $y + 11 }}" class="axis" text-anchor="end">{{ mb_strimwidth(implode(' → ', $field['kinds']), 0, 16, '…') }}</text>
        @foreach ($field['shares'] as $number => $share)
            <rect x="{{ 330 + $number * $cell }}" y="{{ $y }}" width="{{ $cell - 3 }}" height="15" rx="2"
                class="{{ $share === null ? 'gone' : 'there' }}" @if ($share !== null) fill-opacity="{{ round(0.15 + 0.85 * $share, 2) }}"
                @endif><title>{{ $field['path'] }}, run {{ $history->runs[$number]['run'] }}: {{ $share === null ? 'absent' : round(100 *
                $share).' % of the records' }}</title></rect>
        @endforeach
    @endforeach
</svg>
</div>
<p class="legend"><span class="key page"></span> in all records, paler in fewer <span class="key failed"></span> absent</p>
@endif
<p class="s">@if ($history->more > 0){{ \App\View\Show::count($history->more, 'field') }} {{ $history->fields === [] ? 'and none of them' :
    'more never' }} changed. <a href="{{ $link(['fields' => 'all']) }}">Show all fields</a>@endif</p>
</details>
