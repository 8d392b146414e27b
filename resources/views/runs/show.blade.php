@extends('layouts.app')
@section('title', "Run {$run->id}")
@section('content')
<div class="head">
    <div>
        <nav class="crumbs"><a href="{{ route('runs.index') }}">Runs</a> › {{ $run->id }}</nav>
        <h1>{{ $run->endpoint->name }} <span class="tag">{{ $run->environment->name }}</span>@if ($run->isTry()) <span
            class="tag">long try</span>@endif @if ($run->isRebuild()) <span class="tag">from kept pages</span>@endif</h1>
        <small>{{ $run->isTry() ? 'the draft' : "version {$run->version}" }} of {{ $run->endpoint->source->name }}{{ $run->user ?
            ', asked for by '.$run->user->name : ($run->begun_by ? ', begun by '.$run->begun_by : '') }}, <x-moment
            :at="$run->started_at ?? $run->created_at" /></small>
    </div>
    <div class="acts"><a class="btn" href="{{ \App\View\Show::sheet($run->endpoint) }}">{{ $run->endpoint->source->of_query ?
        'Open the query' : 'Open the endpoint' }}</a></div>
</div>
<div class="body">
    @include('runs.progress')
    @if ($exchange)
        <h2 class="mb-2 mt-5">The exchange that ended it</h2>
        @include('runs.exchange-body')
    @endif
    @if ($rejects->total() > 0)
        <h2 class="mb-2 mt-5">Rejects <small class="font-normal">values that did not fit their column</small></h2>
        <p class="s mb-1">{{ \App\View\Show::count($run->rejects, 'value') }} in all; the first {{ $rejects->total() }} are kept with their value.</p>
        <table class="rows"><thead><tr><th>column</th><th>where</th><th>value</th><th>why</th><th>left out</th></tr></thead><tbody>
        @foreach ($rejects as $reject)
            <tr><td class="m">{{ $reject->table }}.{{ $reject->column }}</td><td class="m">{{ $reject->path }}</td>
                <td class="m">{{ mb_strimwidth($reject->value, 0, 80, '…') }}</td><td class="wrap">{{ $reject->reason }}</td>
                <td>{{ $reject->whole_record ? 'the record' : 'the value' }}</td></tr>
        @endforeach
        </tbody></table>
        <x-pages :of="$rejects" one="value" />
        <p class="mt-1"><a href="{{ route('runs.rejects', $run) }}">By reason, with search and export</a></p>
    @endif
</div>
@endsection
