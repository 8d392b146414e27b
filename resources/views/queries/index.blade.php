@extends('layouts.app')
@section('title', 'Queries')
@section('content')
<div class="head">
    <div><h1>Queries</h1><small>kept by everybody here; SQL over the kept tables</small></div>
    <div class="acts"><form method="get" role="search"><label class="visually-hidden" for="q">A part of a name or of the SQL</label><input class="f"
        id="q" name="q" value="{{ $search }}" placeholder="name, owner or SQL"></form>
        <a class="btn go" href="{{ route('queries.create') }}">Write a query</a></div>
</div>
@if ($queries->isEmpty())
    <div class="empty">@if ($search !== '')<h2>No query has “{{ $search }}” in it</h2><p class="mt-2"><a
        href="{{ route('queries.index') }}">Show all queries</a></p>@else<h2>No query yet</h2><p
        class="mt-2 mb-3">Ask the kept tables something in SQL, look at the rows, and keep the query under a name.</p><a class="btn go"
        href="{{ route('queries.create') }}">Write a query</a>@endif</div>
@else
<div class="body !pb-2">
    <table class="rows"><thead><tr><th>Query</th><th>By</th><th>Changed</th><th>SQL</th></tr></thead><tbody>
    @foreach ($queries as $query)<tr><td><a href="{{ route('queries.show', $query) }}"><strong>{{ $query->name }}</strong></a></td>
        <td>{{ $query->user->name }}</td><td>{{ \App\View\Show::ago($query->updated_at) }}</td>
        <td class="m dim">{{ mb_strimwidth((string) preg_replace('/\s+/', ' ', $query->sql), 0, 90, '…') }}</td></tr>@endforeach
    </tbody></table>
    <x-pages :of="$queries" one="query" many="queries" />
</div>
@endif
@if ($history->total() > 0)
<div class="body">
    <h2 class="mb-2">What you ran</h2>
    <table class="rows"><thead><tr><th>When</th><th class="n">Rows</th><th class="n">Took</th><th>SQL</th><th></th></tr></thead><tbody>
    @foreach ($history as $run)<tr><td>{{ \App\View\Show::ago($run->created_at) }}</td>
        <td class="n">{{ $run->rows === null ? '—' : \App\View\Show::number($run->rows) }}</td>
        <td class="n">{{ \App\View\Show::duration($run->milliseconds) }}</td>
        <td class="m">{{ mb_strimwidth((string) preg_replace('/\s+/', ' ', $run->sql), 0, 80, '…') }}@if ($run->error) <span class="tag i"
        title="{{ $run->error }}">failed</span>@endif</td><td><a href="{{ route('queries.create', ['again' => $run->id]) }}"
        aria-label="Open again: {{ mb_strimwidth((string) preg_replace('/\s+/', ' ', $run->sql), 0, 40, '…') }}">Open again</a></td>
        </tr>@endforeach
    </tbody></table>
    <x-pages :of="$history" one="query" many="queries" />
</div>
@endif
@endsection
