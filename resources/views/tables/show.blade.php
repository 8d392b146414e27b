@extends('layouts.app')
@section('title', $table->name)
@section('content')
@php($columns = $table->keptColumns())
@php($link = fn (array $with) => '?'.http_build_query(array_filter($with + ['sort' => $order->column, 'dir' => $order->descending ? 'desc' : null, 'q'
    => $search])))
<div class="head">
    <div>
        <nav class="crumbs"><a href="{{ route('tables.index') }}">Tables</a></nav>
        <h1 class="m !text-xl">{{ $table->name }} <span class="tag">{{ $environment->name }}</span>
            @if ($run?->state === \App\Models\RunState::Failed)<span class="tag i">last refresh failed</span>@elseif ($run?->isInDoubt())<a
            class="tag o" href="{{ route('runs.show', $run) }}">in doubt: {{ mb_strimwidth(collect($run->findings)->firstWhere('doubt',
            true)['sentence'], 0, 70, '…') }}</a>@else<span class="tag g">fresh {{ \App\View\Show::ago($table->refreshed_at) }}</span>@endif</h1>
        @if ($table->title() !== '')<p class="text-sm"><strong>{{ $table->title() }}</strong></p>@endif
        <small>{{ \App\View\Show::count($table->rows,
            'row') }} · {{ \App\View\Show::count(count($columns),
            'column') }} · from {{ $table->endpoint->source->name }} › {{ $table->endpoint->name }}@if ($siblings->isNotEmpty())
            · with @foreach ($siblings as $one)<a class="m" href="{{ route('tables.show', $one->name) }}">{{ $one->name }}</a>@unless ($loop->last),
            @endunless @endforeach @endif @if (($table->texts['owner'] ?? '') !== '') · {{ $table->texts['owner'] }} answers for it @endif</small>
        @if (($table->texts['comment'] ?? '') !== '')<p class="s max-w-[640px]">{{ $table->texts['comment'] }}</p>@endif
        @if ($feeds->where('reads', $table->name)->isNotEmpty())<p class="s">Handed out as @foreach ($feeds->where('reads', $table->name) as $one)<a class="m"
            href="{{ route('outlets.feed', $one) }}">{{ $one->path() }}</a>{{ $one->is_on ? '' : ' (off)' }}{{ $loop->last ? '' : ', ' }}@endforeach</p>@endif
    </div>
    <div class="acts">
        <form method="get" role="search"><label class="visually-hidden" for="q">Find in the texts of this table</label><input class="f" id="q"
            name="q" value="{{ $search }}" placeholder="find in the rows"></form>
        <details class="menu" id="export"><summary class="btn">Export ▾</summary><div class="w-72">
            @php($all = "select * from $table->name")
            @foreach (\DeepSpring\Export\ExportFormat::cases() as $format)<p class="mt-1"><button type="button" class="link"
                hx-post="{{ route('queries.export') }}" hx-vals="{{ json_encode(['sql' => $all, 'as' => $format->value, 'exact' => '1']) }}"
                hx-target="#exported" hx-disabled-elt="#export button">{{ $format->label() }}</button></p>@endforeach
            <div class="mt-2" id="exported" aria-live="polite"></div></div></details>
        @if ($mayChange)<a class="btn" href="{{ route('changes.show', $table->name) }}">Change rows</a>@endif
        <a class="btn" href="{{ route('queries.create', ['table' => $table->name]) }}">Query it</a>
        <form method="post" action="{{ route('outlets.store') }}">@csrf<input type="hidden" name="table" value="{{ $table->name }}"><button class="btn"
            title="Makes a feed of it, which nobody can read until you publish it">Hand it out</button></form>
        @can('update', $table->endpoint->source)
            @php($isOfQuery = $table->endpoint->source->of_query)
            <a class="btn" href="{{ \App\View\Show::sheet($table->endpoint) }}">{{ $isOfQuery ? 'Open the query' : 'Open the endpoint' }}</a>
            @unless ($isOfQuery)<details class="menu" id="give-up" @error('table') open @enderror><summary class="btn">More</summary><div class="w-72">
                <p><strong>Give {{ $siblings->isEmpty() ? 'it' : 'them' }} up</strong></p>
                <p class="s mt-1">{{ $siblings->isEmpty() ? $table->name.' goes' : $table->name.', '.$siblings->pluck('name')->join(', ').' go' }}
                    in {{ $environment->name }}, with the pages kept for {{ $siblings->isEmpty() ? 'it' : 'them' }}. The endpoint stays.</p>
                @if ($readers->isNotEmpty())<p class="mt-1">{{ $readers->count() === 1 ? 'A saved query that reads from here will fail' :
                    'Saved queries that read from here will fail' }}: @foreach ($readers as $one)@can('view', $one)<a
                    href="{{ route('queries.show', $one) }}">{{ $one->name }}</a>@else {{ $one->nameFor(auth()->user()) }}@endcan {{ $loop->last ? '.' :
                    ', ' }}@endforeach</p>
                @else<p class="s mt-1">No saved query reads from {{ $siblings->isEmpty() ? 'it' : 'them' }}.</p>@endif
                @if ($feeds->isNotEmpty())<p class="mt-1">{{ $feeds->count() === 1 ? 'A feed that hands out rows from here cannot be read any more' :
                    'Feeds that hand out rows from here cannot be read any more' }}: {{ $feeds->map(fn ($one) => $one->path())->join(', ') }}.</p>@endif
                @error('table')<p class="fault mt-1" role="alert">{{ $message }}</p>@enderror
                <form class="mt-2" method="post" action="{{ route('tables.destroy', $table->name) }}">@csrf @method('delete')<button
                    class="btn small">Give up {{ $siblings->isEmpty() ? 'the table' : 'the '.($siblings->count() + 1).' tables' }}</button></form>
            </div></details>@endunless
            @if ($readsChanges)<form method="post" action="{{ route('tables.refresh', $table->name) }}">@csrf<input type="hidden" name="whole"
                value="1"><button class="btn" title="and not only what changed">Refresh all of it</button></form>@endif
            <form method="post" action="{{ route('tables.refresh', $table->name) }}">@csrf<button class="btn go">Refresh</button></form>
        @endcan
    </div>
</div>
<div class="body">
    @if ($fault)<div class="diagnosis" role="alert">{{ $fault }}</div>@endif
    @include('notes.of')
    @foreach ($asked as $one)<p class="note live" role="note">{{ $one->sentence() }}</p>@endforeach
    @can('update', $table->endpoint->source)@include('tables.drift')@endcan
    @if ($history)@include('tables.history')@endif
    @if (collect($columns)->contains('mask', 'encrypt'))@can('update', $table->endpoint->source)<p class="mb-2 text-sm">@if ($revealed === [])<a
        href="{{ $link(['reveal' => 1]) }}">Show what is encrypted on this page</a>@else Encrypted values are shown, to you alone. <a
        href="{{ $link([]) }}">Hide them</a>@endif</p>@endcan @endif
    <details class="mb-3"><summary class="s">Columns and their types</summary>
        <table class="rows mt-1 max-w-[900px]"><thead><tr><th>column</th><th>type</th>
            <th>key</th>@can('view', $table->endpoint->source)<th>comes from</th>@endcan<th>what it is</th></tr></thead><tbody>
        @foreach ($columns as $column)<tr><td class="m">{{ $column->name }}@if ($column->given !== $column->name) <span
            class="tag o">named {{ $column->given }} in the source</span>@endif</td><td>{{ $column->label }}</td>
            <td>{{ in_array($column->name, $table->key, true) ? 'yes' : '' }}</td>@can('view', $table->endpoint->source)<td
            class="m">{{ $column->from }}</td>@endcan<td class="wrap">{{ $column->about() }}</td></tr>@endforeach
        </tbody></table>
    </details>
    <p class="mb-3 text-sm"><a href="{{ route('tables.profile',
        $table->name) }}">What the columns are like</a> · <a href="{{ route('tables.history', $table->name) }}">History</a><span class="s"> {{ $states === 0 ?
        'nothing stays of it after a refresh' : \App\View\Show::count($states, 'earlier state').' to compare and query' }}</span></p>
    @unless ($table->is_branch)@can('view', $table->endpoint->source)<p class="mb-3 text-sm"><a href="{{ route('endpoints.change', [$table->endpoint->source,
        $table->endpoint]) }}">How records are changed</a> · <a href="{{ route('journal.index', ['table' => $table->name]) }}">Journal</a></p>@endcan @endunless
    @if ($checks !== [])@include('tables.checks')@elsecan('view', $table->endpoint->source)<p class="mb-3 text-sm"><a
        href="{{ route('endpoints.checks', [$table->endpoint->source, $table->endpoint]) }}">Add checks</a></p>@endif
    <details class="mb-3" id="indexes" @if ($showsIndexes || $errors->has('index')) open @endif><summary class="s">Indexes{{ $unused > 0 ?
        ', '.$unused.' of them without use' : '' }}</summary>
        @error('index')<p class="fault mt-1" id="index-fault" role="alert">{{ $message }}</p>@enderror
        <div data-quiet hx-get="{{ route('tables.indexes', ['name' => $table->name, 'columns' => old('columns'),
            'fault' => $errors->has('index') ? 1 : null]) }}"
            hx-trigger="{{ $showsIndexes || $errors->has('index') ? 'load' : 'toggle from:#indexes once' }}"><p
            class="s mt-1">Looking at what is asked of the table …</p></div>
    </details>
    @if ($page !== null)
        <div class="scroll" tabindex="0" role="region" aria-label="Rows of {{ $table->name }}">
        <table class="rows">
            <thead><tr><th><span class="visually-hidden">Where it comes from</span></th>
            @foreach ($columns as $column)
                @php($isSort = $order->column === $column->name)
                <th @class(['n' => $column->isNumber()]) @if ($column->about() !== '') title="{{ $column->about() }}" @endif @if ($isSort)
                    aria-sort="{{ $order->descending ? 'descending' : 'ascending' }}" @endif><a
                    href="{{ $link(['sort' => $column->name, 'dir' => $isSort && ! $order->descending ? 'desc' :
                    null]) }}">{{ $column->name }}{{ $isSort ? ($order->descending ? ' ↓' : ' ↑') : '' }}</a></th>
            @endforeach
            </tr></thead>
            <tbody>
            @forelse ($page->rows as $number => $row)
                <tr data-origin="{{ $page->marks[$number] }}"><td><a class="s" href="{{ route('tables.origin', ['name' => $table->name,
                    'row' => $page->marks[$number]]) }}" title="Where this row comes from. A click on a value asks the same of that value.">from</a></td>@foreach ($row as $place => $value)<td @class(['n' => $columns[$place]->isNumber(), 'm' => in_array($columns[$place]->type,
                    ['date', 'datetime', 'json'], true)])>{{ \App\View\Show::cell($revealed[$value ?? ''] ?? $value,
                    $columns[$place]->type) }}</td>@endforeach</tr>
            @empty
                <tr><td colspan="{{ count($columns) + 1 }}">{{ $search !== '' ? "No row has “{$search}” in it." : 'The table is empty.' }}</td></tr>
            @endforelse
            </tbody>
        </table>
        </div>
        <nav class="mt-2 flex gap-4 text-sm" aria-label="Pages">
            <span class="s">{{ \App\View\Show::count(count($page->rows), 'row') }} shown{{ $search === '' ?
                ' of '.\App\View\Show::number($table->rows) : ($found === null ? '' : ' of '.\App\View\Show::number($found).' that have it') }}</span>
            @if ($page->before)<a href="{{ $link(['from' => null]) }}">First</a><a href="{{ $link(['from' => $page->before]) }}" rel="prev">Previous</a>@endif
            @if ($page->after)<a href="{{ $link(['from' => $page->after]) }}" rel="next">Next</a>@endif
        </nav>
    @endif
</div>
@endsection
