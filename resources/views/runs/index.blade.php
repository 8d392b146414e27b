@extends('layouts.app')
@section('title', 'Runs')
@php($isNarrowed = $search !== '' || $state || $source !== '' || $within !== '')
@section('content')
<div class="head">
    <div><h1>Runs</h1><small>every reading of an endpoint into its tables</small></div>
    <div class="acts">
        <a class="btn" href="{{ route('schedule.index') }}">Schedule</a>
        <form method="get" role="search" class="flex items-center gap-2">
            <label class="visually-hidden" for="source">Source</label>
            <select class="f" id="source" name="source" data-submits><option value="">every source</option>
                @foreach ($sources as $slug => $name)<option value="{{ $slug }}" @selected($source === $slug)>{{ $name }}</option>@endforeach</select>
            <label class="visually-hidden" for="state">State</label>
            <select class="f" id="state" name="state" data-submits><option value="">every state</option>
                @foreach (\App\Models\RunState::cases() as $one)<option value="{{ $one->value }}"
                @selected($state === $one)>{{ $one->label() }}</option>@endforeach</select>
            <label class="visually-hidden" for="within">Begun</label>
            <select class="f" id="within" name="within" data-submits>
                @foreach (['' => 'at any time', '1h' => 'in the last hour', '1d' => 'in the last day', '7d' => 'in the last week'] as $value =>
                $label)<option value="{{ $value }}" @selected($within === (string) $value)>{{ $label }}</option>@endforeach</select>
            <label class="visually-hidden" for="q">Table or endpoint</label><input class="f" id="q" name="q" value="{{ $search }}"
                placeholder="table or endpoint">
        </form>
    </div>
</div>
@if ($runs->isEmpty())
    <div class="empty"><h2>No run {{ $isNarrowed ? 'matches' : 'yet' }}</h2><p class="mt-2">@if ($isNarrowed)<a
        href="{{ route('runs.index') }}">Show all runs</a>@else A run begins when an endpoint is kept as a table, or a table is refreshed.@endif</p></div>
@else
<div class="body">
    @php($head = fn (string $key, string $label) => new \Illuminate\Support\HtmlString('<a href="?'.e(http_build_query(array_filter(['q' => $search,
        'state' => $state?->value, 'source' => $source, 'within' => $within, 'sort' => $key]))).'">'.$label.($sort === $key ? ' ↓' : '').'</a>'))
    <table class="rows">
        <thead><tr><th>{{ $head('id', 'Run') }}</th><th>Endpoint</th><th>Tables</th><th>State</th><th class="n">{{ $head('pages', 'Pages') }}</th>
            <th class="n">{{ $head('records', 'Records') }}</th><th class="n">{{ $head('rows', 'Rows') }}</th>
            <th class="n"
            title="values that did not fit their column">{{ $head('rejects', 'Rejects') }}</th><th class="n">Took</th><th>Started</th><th>By</th></tr></thead>
        <tbody>
        @foreach ($runs as $run)
            <tr>
                <td><a href="{{ route('runs.show', $run) }}">{{ $run->id }}</a></td>
                    <td>{{ $run->endpoint->source->name }} › {{ $run->endpoint->name }} <small>{{ $run->environment->name }}</small></td>
                    <td class="m">{{ $run->isTry() ? 'long try' : (strtok($run->tables, ' ') ?: '—') }}@if (str_contains($run->tables, ' '))<small>
                    +{{ substr_count($run->tables, ' ') }}</small>@endif</td>
                <td class="wrap"><span class="tag {{ ['done' => $run->isInDoubt() ? 'o' : 'g', 'failed' => 'i', 'stopped' => 'o'][$run->state->value]
                    ?? '' }}">{{ $run->isInDoubt() ? 'done, in doubt' : $run->state->label() }}</span> <small>{{ mb_strimwidth($run->diagnosis['what']
                    ?? $run->waits_for ?? '', 0, 90, '…') }}</small></td>
                <td class="n">{{ \App\View\Show::number($run->pages) }}</td><td class="n">{{ \App\View\Show::number($run->records) }}</td>
                    <td class="n">{{ \App\View\Show::number($run->rows) }}</td><td class="n">{{ \App\View\Show::number($run->rejects) }}</td>
                <td class="n">{{ $run->started_at ? \App\View\Show::duration(abs($run->started_at->diffInMilliseconds($run->ended_at ?? now()))) :
                    '—' }}</td><td>{{ \App\View\Show::ago($run->started_at ?? $run->created_at) }}</td><td class="wrap">{{ $run->beganThrough() ?? '—' }}</td>
            </tr>
        @endforeach
        </tbody>
    </table>
    <x-pages :of="$runs" one="run" />
</div>
@endif
@endsection
