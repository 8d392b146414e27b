@if ($refused !== null)
    <div class="diagnosis" role="alert" data-fault @if ($at !== null) data-at="{{ $at }}" data-length="{{ $length }}" @endif>
        @if ($of > 1)<p class="s">In <code>{{ mb_strimwidth((string) preg_replace('/\s+/', ' ', $sql), 0, 60, '…') }}</code></p>@endif
        <p>{{ $refused->getMessage() }}</p>
        @if ($refused->fault?->instead !== null && $at !== null)<p class="mt-1"><button type="button" class="btn small"
            data-replace="{{ $refused->fault->instead }}">Write {{ $refused->fault->instead }}</button></p>@endif</div>
@elseif ($result)
    <p class="mb-1" role="status"><strong @if ($result->cutShort) data-count @endif>{{ \App\View\Show::count(count($result->rows), 'row') }}</strong>
        <small>in {{ \App\View\Show::duration($result->milliseconds) }}@if ($result->looked !== null), {{ \App\View\Show::count($result->looked, 'row') }} looked at @endif</small> @if ($result->cutShort)<span
        class="tag o" data-more>the first {{ \App\View\Show::number(count($result->rows)) }} rows; scroll on for the rest</span>@endif</p>
    @if ($result->readAt !== null)<p class="note" role="note">Read {{ \App\View\Show::ago($result->readAt) }}; nothing that it reads has changed since.
        <button type="button" class="link" hx-post="{{ route('queries.run') }}" hx-include="#sql, #cursor, #asks" hx-vals='{"again":"1"}'
        hx-target="#result">Run it again</button></p>@endif
    @if ($of > 1)<p class="s">Of <code>{{ mb_strimwidth((string) preg_replace('/\s+/', ' ', $sql), 0, 60, '…') }}</code></p>@endif
    @if ($result->isSlow())<p class="s mb-2">See whether an index would help: @foreach ($result->tables as $table)<a class="m"
        href="{{ route('tables.show', ['name' => $table, 'indexes' => 1]) }}#indexes">{{ $table }}</a>{{ $loop->last ? '.' :
        ', ' }}@endforeach</p>@endif
    @foreach ($result->asked as $one)
        <p class="note live" role="note">{{ $one->sentence() }} @if ($one->run !== null)@can('viewAny', \App\Models\Run::class)<a
            href="{{ route('runs.show', $one->run) }}">Run {{ $one->run }}</a>@endcan @endif</p>
    @endforeach
    @foreach ($result->live as $one)
        <div class="note live" role="note">
            <p><code>{{ $one->table->name }}</code> is not kept: {{ \App\View\Show::count($one->rows, 'row') }} {{ $one->rows === 1 ? 'was' :
                'were' }} read from {{ $one->table->source->name }} in {{ \App\View\Show::count($one->requests,
                'request') }}, {{ \App\View\Show::duration($one->milliseconds) }}.@if ($one->rejects > 0) {{ \App\View\Show::count($one->rejects,
                'value does not fit', 'values do not fit') }} its column and is empty.@endif</p>
            <p class="m">{!! str_replace(['&amp;', ','], ['&amp;<wbr>', ',<wbr>'], e($one->address)) !!}</p>
            @php($asked = array_filter($one->parts, fn ($part) => $part->asked !== null))
            @php($here = array_filter($one->parts, fn ($part) => $part->asked === null))
            @if ($asked !== [])<p class="s">Asked of the service: @foreach ($asked as $part)<code>{{ $part->text }}</code>{{ $loop->last ? '.' :
                ', ' }}@endforeach</p>@endif
            @if ($here !== [])<p class="s">Done here: @foreach ($here as $part)<code>{{ $part->text }}</code> ({{ $part->why }}){{ $loop->last ? '.' :
                ', ' }}@endforeach</p>@endif
        </div>
    @endforeach
    @foreach ($why as $sentence)<p class="note" role="note">{{ $sentence }}</p>@endforeach
    @if ($result->rows === [])<p class="s">No row matches.</p>@if ($result->live === [])<div hx-post="{{ route('queries.empty') }}" hx-trigger="load"
        data-quiet hx-vals="{{ json_encode(['sql' => $bound]) }}"></div>@endif @endif
    <div class="grid-of" data-grid aria-label="Rows of the result" data-numbers="{{ auth()->user()->numbers }}" data-sql="{{ $bound }}"
        @if ($result->cutShort && $result->live === []) data-all-url="{{ route('queries.results') }}" data-part-url="{{ route('queries.results.part', ['result' => 0, 'part' => 0]) }}" @endif
        data-origin-url="{{ route('queries.origin') }}"><script
        type="application/json">{!! $grid->json() !!}</script></div>
    <div id="origin"></div>
    @if ($draws)<div id="chart"><p class="mt-2"><button type="button" class="btn small" hx-post="{{ route('queries.chart') }}" hx-target="#chart"
        hx-vals="{{ json_encode(['sql' => $bound]) }}" hx-disabled-elt="this">Draw a chart</button></p></div>@endif
    @include('queries.read')
    @if (count($result->reads) > 0 && $joins)<div id="coverage" hx-post="{{ route('queries.coverage') }}" hx-trigger="load" data-quiet
        hx-vals="{{ json_encode(['sql' => $bound]) }}"></div>@endif
@endif
