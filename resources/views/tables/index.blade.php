@extends('layouts.app')
@section('title', 'Tables')
@section('content')
<div class="head">
    <div><h1>Tables</h1><small>kept in {{ $environment->name }}</small></div>
    <div class="acts"><form method="get" role="search"><label class="visually-hidden" for="q">A part of a name</label><input class="f" id="q" name="q"
        value="{{ $search }}" placeholder="a part of a name"></form><a class="btn" href="{{ route('queries.create') }}">Write a query</a></div>
</div>
@if ($tables->isEmpty())
    <div class="empty">
        @if ($search !== '')<h2>No table is named like “{{ $search }}”</h2><p class="mt-2"><a href="{{ route('tables.index') }}">Show all tables</a></p>
        @else<h2>Nothing is kept in {{ $environment->name }} yet</h2><p
            class="mt-2">@can('create', \App\Models\Source::class)Open an endpoint, choose its columns under Flatten, and keep it as a table. <a
            href="{{ route('sources.index') }}">To the sources</a>@else A builder can keep one.
            Or work in another environment, in the band above.@endcan</p>@endif
    </div>
@else
<div class="body">
    @php($head = fn (string $key, string $label) => new \Illuminate\Support\HtmlString('<a href="?'.e(http_build_query(['q' => $search, 'sort' =>
        $key])).'">'.$label.($sort === $key ? ' ↓' : '').'</a>'))
    <table class="rows">
        <thead><tr><th>{{ $head('name', 'Table') }}</th><th>From</th><th class="n">Columns</th><th class="n">{{ $head('rows', 'Rows') }}</th>
            <th>{{ $head('refreshed_at', 'Refreshed') }}</th><th>Key</th></tr></thead>
        <tbody>
        @foreach ($tables as $table)
            <tr><td class="m"><a href="{{ route('tables.show', $table->name) }}">{{ $table->name }}</a></td>
                <td>{{ $table->endpoint->source->name }} › {{ $table->endpoint->name }}@if ($table->is_branch) <span
                class="tag"
                title="a branch table: rows of a list inside the records, joined to them by their key">branch table</span>@endif</td>
                <td class="n">{{ count($table->columns) }}</td>
                @if ($table->is_view)<td class="n">—</td><td>a view, always as it is now</td>@else<td
                class="n">{{ \App\View\Show::number($table->rows) }}</td><td>{{ \App\View\Show::ago($table->refreshed_at) }}</td>@endif
                <td class="m">{{ $table->key === [] ? '—' : implode(' + ', $table->key) }}</td></tr>
        @endforeach
        </tbody>
    </table>
    <x-pages :of="$tables" one="table" />
</div>
@endif
@endsection
