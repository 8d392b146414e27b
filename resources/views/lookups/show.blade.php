@extends('layouts.app')
@section('title', 'Lookup, '.$definition->name)
@php
    $at = [$source, $endpoint];
    $columns = $page->table === null ? [] : array_column($page->columns, 'name');
@endphp
@section('content')
<div class="head">
    <div>
        <nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a> › <a href="{{ route('sources.show', $source) }}">{{ $source->name }}</a> › <a
            href="{{ route('endpoints.show', $at) }}">{{ $definition->name }}</a></nav>
        <h1>Lookup <span class="tag">{{ $environment->name }}</span></h1>
        <small>One request for each row of a table. What comes back is a table of its own that carries columns of the row.</small>
    </div>
    <div class="acts">
        @can('update', $source)
        @if ($page->isOne)<form method="post" action="{{ route('endpoints.lookup.try', $at) }}">@csrf<button class="btn"
            id="try-rows">Try {{ $tried }} rows</button></form>@endif
        @if ($page->isOne)<form method="post" action="{{ route('endpoints.lookup.keep', $at) }}">@csrf<button class="btn"
            id="ask-all">{{ $isDraft ? 'Publish and ask for all rows' : 'Ask for all rows' }}</button></form>@endif
        @if ($page->table)<button class="btn go" form="lookup-form" name="do" value="save">Keep in the draft</button>@endif
        @endcan
    </div>
</div>
@if ($tables->isEmpty())
    <div class="empty"><h2>No other table is kept in {{ $environment->name }}</h2>
        <p class="mt-2">A lookup asks this endpoint once for each row of a table. Keep one first, from another
            endpoint.</p></div>
@elseif ($page->inputs === [])
    <div class="empty"><h2>This endpoint has no input</h2>
        <p class="mt-2">Give it one under <em>Ask</em>, such as a number in the path, so that each row can ask for something else.</p></div>
@else
<div class="lookup">
<div>
    <form method="get" class="mb-3"><label class="text-sm">For each row of <select class="f !w-auto" name="table" id="lookup-table" data-submits>
        @if ($page->table === null)<option value="">choose a table</option>@endif
        @foreach ($tables as $one)<option value="{{ $one->name }}" @selected($one->is($page->table))>{{ $one->name }}, {{ \App\View\Show::count($one->rows,
            'row') }}</option>@endforeach</select></label> <noscript><button class="btn small">Choose</button></noscript></form>
    @error('table')<p class="fault" role="alert">{{ $message }}</p>@enderror
    @if ($page->table)
    <form method="post" id="lookup-form" action="{{ route('endpoints.lookup.update', $at) }}">
        @csrf
        <input type="hidden" name="table" value="{{ $page->table->name }}">
        <table class="rows" id="bindings"><thead><tr><th>input</th><th>takes the column</th><th>or a text</th></tr></thead><tbody>
        @foreach ($page->inputs as $number => $input)
            <tr><td class="wrap"><label for="bind-{{ $number }}"><code>{{ $input['name'] }}</code></label>@if ($input['isNeeded']) <span
                class="s">required</span>@endif</td>
                <td><x-pick id="bind-{{ $number }}" :name="'bind['.$input['name'].']'" :options="['' => 'none'] + array_combine($columns, $columns)"
                    :value="$input['column']" />
                    @if ($input['why'] !== '')<div class="s">proposed: {{ $input['why'] }}</div>@endif
                    @if ($input['example'] !== '')<div class="s">sent as <code>{{ $input['example'] }}</code></div>@endif</td>
                <td><input class="f !w-full" name="text[{{ $input['name'] }}]" value="{{ $input['text'] }}" spellcheck="false"
                    aria-label="Text for {{ $input['name'] }}" placeholder="{{ $number === 0 ? '{house}-{ref}, or the same for all' : '' }}"></td></tr>
        @endforeach
        </tbody></table>
        @error('lookup')<p class="fault mt-2" role="alert" id="lookup-fault">{{ $message }}</p>@enderror
        <fieldset class="mt-3"><legend class="text-sm">Columns of the row that the table carries</legend>
            @if (isset($definition->endpoint['flatten']))
            <div class="flex flex-wrap gap-x-3 gap-y-1 text-sm">@foreach ($page->columns as $column)<label><input type="checkbox" name="carry[]"
                value="{{ $column['name'] }}" @checked($column['isCarried'])> <span class="m">{{ $column['name'] }}</span>{{ $column['isKey'] ? ', key' :
                '' }}</label>@endforeach</div>
            <label class="mt-1 inline-block text-sm">new ones with the prefix <input class="f !w-28" name="prefix" placeholder="none"
                spellcheck="false"></label>
            @else<p class="s">Choose what becomes of the answer first, under <em>Flatten</em> on the <a href="{{ route('endpoints.show', $at) }}">sheet</a>.
                Then columns of the row can be carried along.</p>@endif
        </fieldset>
        <div class="mt-3 flex flex-wrap gap-x-4 gap-y-2 text-sm">
            <label>Not found (404, 410) means <x-pick name="not_found" id="not-found" :options="['reject' => 'a reject', 'empty' => 'nothing']"
                :value="$page->notFound" /></label>
            <label>The table has <x-pick name="rows" id="lookup-rows" :options="['found' => 'rows that were found', 'all' => 'every row']"
                :value="$page->rows" /></label>
            <label>Answers count as known for <x-pick name="answers" id="lookup-answers" :options="['' => 'one refresh', 'PT1H' => 'an hour', 'PT6H' =>
                '6 hours', 'P1D' => 'a day', 'P7D' => '7 days', 'P30D' => '30 days', 'P365D' => 'a year'] + [$page->answers => $page->answers]"
                :value="$page->answers" /></label>
        </div>
        @can('update', $source)@if ($page->isOne)<p class="mt-4"><button class="btn small" name="do" value="none">Read it as one list again</button></p>@endif
        @endcan
    </form>
    @endif
</div>
<div id="happened">
    @error('keep')<p class="fault mb-2" role="alert">{{ $message }}</p>@enderror
    @if ($cannot)<p class="note" role="alert">{{ $cannot }}</p>@endif
    @if ($estimate instanceof \App\Runs\LookupEstimate)<p class="mb-2" id="estimate">{{ $estimate->words() }}</p>
    @elseif (is_string($estimate))<p class="note" id="estimate">{{ $estimate }}</p>@endif
    @if ($try)@include('lookups.tried')
    @elseif ($page->isOne)<p class="s">Try some rows to see what is sent for each, and what comes.</p>
    @elseif ($page->table)<p class="s">Bind the inputs, keep that in the draft, and try it on some rows here.</p>@endif
</div>
</div>
@endif
@endsection
