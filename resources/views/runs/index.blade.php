@extends('layouts.app')
@section('title', 'Runs')
@section('content')
<div class="head">
    <div><h1>Runs</h1><small>every reading of an endpoint into its tables</small></div>
    <div class="acts">
        <form method="get" role="search" class="flex gap-2">
            <label class="visually-hidden" for="state">State</label>
            <select class="f" id="state" name="state" data-submits><option value="">every state</option>@foreach (\App\Models\RunState::cases() as $one)<option value="{{ $one->value }}" @selected($state === $one)>{{ $one->word() }}</option>@endforeach</select>
            <label class="visually-hidden" for="q">Endpoint</label><input class="f" id="q" name="q" value="{{ $search }}" placeholder="endpoint">
        </form>
    </div>
</div>
@if ($runs->isEmpty())
    <div class="empty"><h2>No run {{ $search !== '' || $state ? 'like that' : 'yet' }}</h2><p class="mt-2">A run begins when an endpoint is kept as a table, or a table is refreshed.</p></div>
@else
<div class="body">
    <table class="rows">
        <thead><tr><th>Run</th><th>Endpoint</th><th>Environment</th><th>State</th><th class="n">Pages</th><th class="n">Records</th><th class="n">Rows</th><th class="n">Did not fit</th><th class="n">Took</th><th>Began</th><th>By</th></tr></thead>
        <tbody>
        @foreach ($runs as $run)
            <tr>
                <td><a href="{{ route('runs.show', $run) }}">{{ $run->id }}</a></td><td>{{ $run->endpoint->source->name }} › {{ $run->endpoint->name }}</td><td>{{ $run->environment->name }}</td>
                <td><span class="tag {{ ['done' => 'g', 'failed' => 'i', 'stopped' => 'o'][$run->state->value] ?? '' }}">{{ $run->state->word() }}</span> <small>{{ $run->diagnosis['what'] ?? '' }}</small></td>
                <td class="n">{{ \App\View\Show::number($run->pages) }}</td><td class="n">{{ \App\View\Show::number($run->records) }}</td><td class="n">{{ \App\View\Show::number($run->rows) }}</td><td class="n">{{ \App\View\Show::number($run->rejects) }}</td>
                <td class="n">{{ $run->started_at ? \App\View\Show::duration(abs($run->started_at->diffInMilliseconds($run->ended_at ?? now()))) : '—' }}</td><td>{{ \App\View\Show::ago($run->started_at ?? $run->created_at) }}</td><td>{{ $run->user?->name ?? '—' }}</td>
            </tr>
        @endforeach
        </tbody>
    </table>
    <x-pages :of="$runs" one="run" />
</div>
@endif
@endsection
