@extends('layouts.app')
@section('title', $query?->name ?? 'A new query')
@section('go', 'run the query')
@push('head')@vite('resources/js/editor.js')@endpush
@section('content')
<form id="query-form" method="post" action="{{ $query !== null && $mayChange ? route('queries.update', $query) : route('queries.store') }}">
@csrf
<div class="head">
    <div>
        <nav class="crumbs"><a href="{{ route('queries.index') }}">Queries</a></nav>
        <h1>{{ $query?->name ?? 'A new query' }} @if ($query && ! $mayChange)<span class="tag">by {{ $query->user->name }}</span>@endif</h1>
        @error('name')<p class="fault">{{ $message }}</p>@enderror
    </div>
    <div class="acts" data-slow>
        <span class="s" data-waiting role="status"></span>
        <label class="visually-hidden" for="name">Name to keep it under</label><input class="f !w-48" id="name" name="name"
            value="{{ old('name', $mayChange ? $query?->name : '') }}" placeholder="name to keep it under">
        <button class="btn">{{ $query !== null && $mayChange ? 'Keep changes' : 'Keep' }}</button>
        <details class="menu"><summary class="btn">Export ▾</summary><div>
            <p><button type="submit" class="link" id="export-csv" formaction="{{ route('queries.export') }}">CSV, safe for spreadsheets</button></p>
            <p class="mt-1"><button type="submit" class="link" formaction="{{ route('queries.export') }}" name="exact" value="1">CSV, exact values</button></p>
            <p class="s mt-2 w-56">Safe: a text that a spreadsheet would run as a formula gets an apostrophe in front.</p>
        </div></details>
        <button type="button" class="btn go" data-go @if ($runs) hx-trigger="click, load" @endif
            hx-post="{{ route('queries.run') }}" hx-include="#query-form" hx-target="#result"
            hx-disabled-elt="this">Run <span class="font-normal opacity-80">Ctrl ↵</span></button>
    </div>
</div>
<div class="cols"><div>What you ask</div><div></div><div>What came back</div></div>
<div class="sheet">
    <div class="cell last min-w-0">
        <div class="editor"><label class="visually-hidden" for="sql">SQL</label><textarea class="f" id="sql" name="sql" rows="14" data-sql
            spellcheck="false">{{ old('sql', $sql) }}</textarea></div>
        <h2 class="mb-1 mt-5">Tables in {{ $environment->name }}</h2>
        @forelse ($tables as $table)
            <details class="border-b border-seam py-1"><summary><span class="m">{{ $table->name }}</span>
                <small>{{ \App\View\Show::count($table->rows, 'row') }}, {{ \App\View\Show::ago($table->refreshed_at) }}</small></summary>
                <div class="flex flex-wrap gap-1 py-1 pl-4">@foreach ($table->keptColumns() as $column)<button type="button" class="pill"
                    data-insert="{{ $column->name }}" title="{{ $column->label }}">{{ $column->name }}</button>@endforeach</div>
            </details>
        @empty
            <p class="s">None yet. Once a builder keeps one, it can be queried here.</p>
        @endforelse
        @if ($live !== [])
            <h2 class="mb-1 mt-4">Not kept, read when asked for</h2>
            @foreach ($live as $one)
                @php($shapes = array_map(fn ($table) => new \App\Reservoir\TableShape($table), $one->plan->tables()))
                @foreach ($shapes as $shape)
                <details class="border-b border-seam py-1"><summary><span class="m">{{ $shape->name }}</span>
                    <small>from {{ $one->source->name }}</small></summary>
                    <div class="flex flex-wrap gap-1 py-1 pl-4">@foreach ($shape->columns as $column)<button type="button" class="pill"
                        data-insert="{{ $column->name }}" title="{{ $column->label }}">{{ $column->name }}</button>@endforeach</div>
                </details>
                @endforeach
            @endforeach
        @endif
    </div>
    <div class="spine"><span class="node no">1</span></div>
    <div class="cell last" id="result"><p
        class="s">Ctrl+Enter runs the query. It reads only,
            for at most {{ config('spring.query.seconds') }} s, and shows the first
            {{ \App\View\Show::number(config('spring.query.rows')) }} rows; the export has all of them.</p></div>
</div>
</form>
<script type="application/json" id="tables-known">@json($tables->mapWithKeys(fn ($table) => [$table->name => array_map(fn ($column) => $column->name,
    $table->keptColumns())])->all() + collect($live)->flatMap(fn ($one) => collect($one->plan->tables())->map(fn ($table) => new
    \App\Reservoir\TableShape($table))->mapWithKeys(fn ($shape) => [$shape->name => array_map(fn ($column) => $column->name,
    $shape->columns)]))->all())</script>
@endsection
