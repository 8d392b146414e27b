@extends('layouts.app')
@section('title', 'Queries')
@section('content')
<div class="head">
    <div><h1>Queries</h1><small>SQL over the kept tables; everybody sees what is saved, unless it is marked “only you”</small></div>
    <div class="acts"><form method="get" role="search"><label class="visually-hidden" for="q">A part of a name, a description or the SQL</label><input class="f"
        id="q" name="q" value="{{ $search }}" placeholder="name, owner or SQL"></form>
        <a class="btn go" href="{{ route('queries.create') }}">Write a query</a></div>
</div>
@if ($labels->isNotEmpty())<nav class="mx-6 mb-2 flex flex-wrap gap-1" aria-label="Labels">@foreach ($labels as $one)<a @class(['tag', 'g' => $one === $label])
    @if ($one === $label) aria-current="true" @endif href="{{ route('queries.index', array_filter(['label' => $one === $label ? null :
    $one, 'q' => $search])) }}">{{ $one }}</a>@endforeach</nav>@endif
@if ($drafts->isNotEmpty())<div class="body !pb-3"><h2 class="mb-1">Not saved yet</h2>
    <table class="rows"><tbody>@foreach ($drafts as $draft)<tr>
        <td class="w-56"><a href="{{ $draft->savedQuery === null ? route('queries.create', ['draft' => $draft->id]) : route('queries.show', [$draft->savedQuery,
            'draft' => $draft->id]) }}">{{ $draft->savedQuery->name ?? 'A new query' }}</a></td>
        <td class="w-28">{{ \App\View\Show::ago($draft->updated_at) }}</td>
        <td class="m dim">{{ mb_strimwidth((string) preg_replace('/\s+/', ' ', $draft->sql), 0, 90, '…') ?: '—' }}</td>
        <td><form method="post" action="{{ route('queries.drafts.destroy', $draft->id) }}">@csrf @method('delete')<button class="link"
            aria-label="Throw away what was written {{ \App\View\Show::ago($draft->updated_at) }}">throw away</button></form></td></tr>@endforeach
    </tbody></table></div>@endif
@if ($files !== [])@include('queries.files')@endif
@if ($queries->isEmpty())
    <div class="empty">@if ($search !== '' || $label !== '')<h2>No query is like that</h2><p class="mt-2"><a
        href="{{ route('queries.index') }}">Show all queries</a></p>@else<h2>No query yet</h2><p
        class="mt-2 mb-3">Ask the kept tables something in SQL, look at the rows, and save the query under a name.</p><a class="btn go"
        href="{{ route('queries.create') }}">Write a query</a>@endif</div>
@else
<div class="body !pb-2">
    @php($head = fn (string $key, string $title) => new \Illuminate\Support\HtmlString('<a href="?'.e(http_build_query(array_filter(['q' => $search,
        'label' => $label, 'sort' => $key]))).'">'.$title.($sort === $key ? ' ↓' : '').'</a>'))
    <table class="rows"><thead><tr><th>{{ $head('name', 'Query') }}</th><th>Kept in {{ $environment->name }}</th><th>By</th>
        <th>{{ $head('updated_at', 'Changed') }}</th><th>SQL</th></tr></thead><tbody>
    @foreach ($queries as $query)
        @php($keep = $query->keeps->firstWhere('environment_id', $environment->id))
        <tr><td class="wrap"><a href="{{ route('queries.show', $query) }}"><strong>{{ $query->name }}</strong></a>@if ($query->is_private) <span
            class="tag">only you</span>@endif @foreach ($query->labels as $one)<span class="tag">{{ $one }}</span> @endforeach
            @if ($query->description !== null)<br><small>{{ mb_strimwidth($query->description, 0, 120, '…') }}</small>@endif</td>
        <td>@if ($keep !== null){{ $keep->is_view ? 'view' : 'table' }} <span class="m">{{ $keep->name }}</span>@if ($keep->fault !== null) <span
            class="tag i" title="{{ $keep->fault }}">broken</span>@endif @else — @endif</td>
        <td>{{ $query->user->name }}</td><td>{{ \App\View\Show::ago($query->updated_at) }}</td>
        <td class="m dim">{{ mb_strimwidth((string) preg_replace('/\s+/', ' ', $query->sql), 0, 70, '…') }}</td></tr>@endforeach
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
