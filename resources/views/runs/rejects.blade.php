@extends('layouts.app')
@section('title', "Rejects of run {$run->id}")
@php($isChosen = $group['table'] !== '')
@php($link = fn (array $with) => route('runs.rejects', ['run' => $run] + array_filter($with + ($isChosen ? $group : []) + ['q' => $search, 'sort' =>
    $sort === 'id' ? null : $sort], fn ($one) => $one !== null && $one !== '')))
@section('content')
<div class="head">
    <div>
        <nav class="crumbs"><a href="{{ route('runs.index') }}">Runs</a> › <a href="{{ route('runs.show', $run) }}">{{ $run->id }}</a></nav>
        <h1>Rejects <span class="tag">{{ $run->environment->name }}</span></h1>
        <small>{{ $run->endpoint->name }}, <x-moment :at="$run->started_at ?? $run->created_at" :seconds="false" /> · {{ \App\View\Show::count($run->rejects,
            'value') }} of {{ \App\View\Show::count($run->records, 'record') }} did not fit their column
            @if ($run->rejects > $rejects->total() && ! $isChosen && $search ===
            ''); the first {{ \App\View\Show::number($rejects->total()) }} are kept with their value @endif</small>
    </div>
    <div class="acts">
        <form method="get" role="search">@if ($isChosen)@foreach ($group as $name => $value)<input type="hidden" name="{{ $name }}"
            value="{{ $value }}">@endforeach @endif<label class="visually-hidden" for="q">Find in values, keys and places</label><input class="f"
            id="q" name="q" value="{{ $search }}" placeholder="find a value, a key"></form>
        <a class="btn" href="{{ route('runs.rejects.export', ['run' => $run] + array_filter(($isChosen ? $group : []) + ['q' => $search])) }}">Export as CSV</a>
        <a class="btn" href="{{ \App\View\Show::sheet($run->endpoint) }}#flatten">Change the columns</a>
        @if ($kept)<form method="post" action="{{ route('runs.rebuild', $run) }}">@csrf @if ($draft !== null)<input type="hidden" name="publish"
            value="1">@endif<button class="btn go" title="{{ \App\View\Show::count($kept['pages'],
            'page') }}, kept {{ $kept['kept_at'] }} UTC">{{ $draft === null ? 'Try them again from the kept pages' :
            'Publish the draft, and try them again from the kept pages' }}</button></form>@endif
    </div>
</div>
@if ($kept && $draft !== null)<p class="note mx-6 mb-3">There is a draft of {{ $run->endpoint->source->name }} that is not published:
    <a href="{{ route('sources.versions.compare', [$run->endpoint->source, 'a' => $run->endpoint->source->published_version, 'b' => 'draft']) }}">see
    what it changes</a>. Publishing it publishes all of it.</p>@endif
<div class="body">
    @if ($groups->isEmpty())
        <div class="empty"><h2>No rejects</h2><p class="mt-2">Every value of this run fits its column.</p></div>
    @else
    <h2 class="mb-1">By reason</h2>
    <table class="rows mb-5 max-w-[1100px]"><thead><tr><th class="n">values</th><th>column</th><th>why</th><th>left out</th><th>for example</th></tr>
        </thead><tbody>
    @foreach ($groups as $one)
        @php($isThis = $isChosen && $group['table'] === $one->table && $group['column'] === $one->column && $group['reason'] === $one->reason)
        <tr @if ($isThis) aria-current="true" class="differs" @endif><td class="n">{{ \App\View\Show::number($one->times) }}</td>
            <td class="m"><a href="{{ $isThis ? route('runs.rejects', $run) : route('runs.rejects', ['run' => $run, 'table' => $one->table, 'column'
            => $one->column, 'reason' => $one->reason]) }}">{{ $one->table }}{{ $one->column === '' ? '' : ".$one->column" }}</a></td>
            <td class="wrap">{{ $one->reason }}</td><td>{{ $one->whole_record ? 'the record' : 'the value' }}</td>
            <td class="m">{{ mb_strimwidth((string) $one->example, 0, 50, '…') }}</td></tr>
    @endforeach
    </tbody></table>
    <h2 class="mb-1">One by one @if ($isChosen)<small class="font-normal"><a href="{{ route('runs.rejects', $run) }}">show all</a></small>@endif</h2>
    <table class="rows"><thead><tr>
        @foreach (['table' => 'column', 'record_key' => 'record', 'id' => 'where', 'value' => 'value', 'reason' => 'why'] as $by => $label)<th
            @if ($sort === $by) aria-sort="ascending" @endif><a href="{{ $link(['sort' => $by]) }}">{{ $label }}{{ $sort === $by ? ' ↑' :
            '' }}</a></th>@endforeach
        <th>left out</th></tr></thead><tbody>
    @forelse ($rejects as $reject)
        <tr><td class="m">{{ $reject->table }}{{ $reject->column === '' ? '' : ".$reject->column" }}</td>
            <td class="m">{{ $reject->record_key ?: '—' }}</td><td class="m">{{ $reject->path }}</td>
            <td class="m" title="{{ mb_strimwidth($reject->value, 0, 500, '…') }}">{{ mb_strimwidth($reject->value, 0, 60, '…') }}</td>
            <td class="wrap">{{ $reject->reason }}</td><td>{{ $reject->whole_record ? 'the record' : 'the value' }}</td></tr>
    @empty
        <tr><td colspan="6">Nothing here is like “{{ $search }}”.</td></tr>
    @endforelse
    </tbody></table>
    <x-pages :of="$rejects" one="value" />
    @endif
</div>
@endsection
