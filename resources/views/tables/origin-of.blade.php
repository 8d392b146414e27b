@php($origin = $sheet->origin)
@php($query = $sheet->table->endpoint->source->of_query)
<div class="origin">
<div>
    <h2 class="mb-1">What is kept</h2>
    <table class="rows"><thead><tr><th>Column</th><th>Value</th><th>Made from</th></tr></thead><tbody>
    @foreach ($sheet->columns as $one)
        <tr @if ($one->name === $sheet->column->name) aria-current="true" @endif><td class="m"><a
            href="{{ route('tables.origin', ['name' => $sheet->table->name, 'row' => $sheet->mark, 'column' => $one->name]) }}">{{ $one->name }}</a></td>
        <td class="m wrap">{{ mb_strimwidth($sheet->row[$one->name] ?? '—', 0, 120, '…') }}
            @if ($sheet->differs($one) !== null)<br><span
                class="tag o">the kept answer makes it {{ mb_strimwidth($sheet->differs($one), 0, 60, '…') }}</span>@endif</td>
        <td class="wrap">{{ $sheet->story($one) }}</td></tr>
    @endforeach
    </tbody></table>
</div>
<div>
    <h2 class="mb-1">What it was read from</h2>
    @if ($query)
        <p>{{ $sheet->table->name }} holds the rows of <a
            href="{{ \App\View\Show::sheet($sheet->table->endpoint) }}">the query {{ $sheet->table->endpoint->source->described() }}</a>,
            as they were <x-moment :at="$sheet->table->refreshed_at" />. Run that query to see what stands behind a value there.</p>
    @elseif ($origin->page !== null)
        <p>Page {{ \App\View\Show::number($origin->page) }} of {{ \App\View\Show::number($origin->kept['pages']) }} that were kept of
            @can('view', $origin->run)<a href="{{ route('runs.show', $origin->run) }}">run {{ $origin->run->id }}</a>@else run {{ $origin->run->id }}@endcan,
            which ended <x-moment :at="$origin->run->ended_at ?? $origin->run->created_at" />@if ($sheet->later > 0); {{ \App\View\Show::count($sheet->later, 'later run') }} read only what changed, and kept no answers @endif</p>
        @if ($origin->exchange !== null && $sheet->seesAnswer)<p
            class="m mt-1">{{ strtok($origin->exchange->request, "\n") }} → {{ $origin->exchange->status }}</p>
        @elseif ($sheet->seesAnswer && $origin->asked !== null)<p class="m mt-1">{{ $origin->asked }}</p>
        @elseif ($sheet->seesAnswer)<p class="s mt-1">The request of this page is no longer kept, only its answer.</p>@endif
        @foreach ($sheet->paths($sheet->column) as $path)<p class="m mt-1">{{ $path }}</p>@endforeach
        @if ($sheet->written() !== null)<p
            class="mt-1"><strong>{{ $sheet->column->name }}</strong> stood there as <code>{{ mb_strimwidth($sheet->written(), 0, 300, '…') }}</code></p>@endif
        @if ($origin->nodes === null)<p class="s mt-1">Some elements of this record became no row, so which of them it is cannot be said.</p>@endif
        @if ($sheet->seesAnswer)<div class="mt-2">{{ $sheet->record() }}</div>
        @else<p class="s mt-2">The rest of the answer is seen by those who build the source.</p>@endif
    @elseif ($origin->unread !== null)
        <p>Not in the first {{ \App\View\Show::count($origin->unread, 'page') }} of {{ \App\View\Show::number($origin->kept['pages']) }}; the time for one look is up.
            <a href="{{ route('tables.origin', ['name' => $sheet->table->name, 'row' => $sheet->mark, 'column' => $sheet->column->name, 'after' => $origin->unread]) }}">Look through the rest</a></p>
    @elseif ($origin->kept === null)
        <p>No answers are kept of this table: {{ $sheet->table->rows_of !== null ? "it was asked for row by row of {$sheet->table->rows_of}. " :
            '' }}what is known is how each column is made, and that its rows are as they were <x-moment :at="$sheet->table->refreshed_at" />.</p>
        @if ($sheet->table->rows_of === null)<p class="s mt-1">Answers are kept with the next whole refresh, where the endpoint keeps them.</p>@endif
    @else
        <p>It is in none of the {{ \App\View\Show::count($origin->kept['pages'], 'page') }} that were kept at {{ $origin->kept['kept_at'] }} UTC.
            @if ($sheet->later > 0) {{ \App\View\Show::count($sheet->later, 'later run') }} read only what changed and kept no answers: it came, or its key changed, with one of these.@endif</p>
    @endif
    @can('view', $sheet->table->endpoint->source)<p class="mt-2"><a href="{{ \App\View\Show::sheet($sheet->table->endpoint) }}">Open the endpoint</a></p>@endcan
</div>
</div>
