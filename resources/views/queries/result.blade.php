@if ($fault)
    <div class="diagnosis" role="alert">{{ $fault }}</div>
@elseif ($result)
    <p class="mb-2" role="status"><strong>{{ \App\View\Show::count(count($result->rows), 'row') }}</strong>
        <small>in {{ \App\View\Show::duration($result->milliseconds) }}</small> @if ($result->cutShort)<span
        class="tag o">the first {{ \App\View\Show::number(count($result->rows)) }} rows; there are more. The export has all of them.</span>@endif</p>
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
    @if ($result->rows === [])
        <p class="s">The query is fine, and nothing matches it.</p>
    @endif
    <div class="scroll max-h-[640px] overflow-y-auto" tabindex="0" role="region" aria-label="Rows of the result">
    <table class="rows">
        <thead><tr>@foreach ($result->columns as $column)<th @class(['n' => $column->isNumber])>{{ $column->name }}</th>@endforeach</tr></thead>
        <tbody>
        @foreach ($result->rows as $row)
            <tr>@foreach ($row as $place => $value)<td @class(['n' => $result->columns[$place]->isNumber])>{{ \App\View\Show::cell($value,
                $result->columns[$place]->isNumber ? 'decimal' : 'text') }}</td>@endforeach</tr>
        @endforeach
        </tbody>
    </table>
    </div>
@endif
