@extends('layouts.app')
@section('title', $table->name.': history')
@php($show = \App\View\Show::class)
@php($label = fn (string $which) => $which === 'now' ? 'now: '.$table->name : ($states->snapshots->firstWhere('name', $which) ? $show::at(
    $states->snapshots->firstWhere('name', $which)->state_at, true).': '.$which : 'as it was at '.$which.' UTC'))
@section('content')
<div class="head">
    <div><nav class="crumbs"><a href="{{ route('tables.index') }}">Tables</a> › <a href="{{ route('tables.show', $table->name) }}">{{ $table->name }}</a></nav>
        <h1>History <span class="tag">{{ $environment->name }}</span></h1>
        <small>{{ $states->isEmpty() ? 'no earlier state' : $show::count($states->rows(), 'row').' of earlier states, '.$show::bytes((int) array_sum(
            $states->bytes)) }}</small></div>
    <div class="acts">@if (! $states->isEmpty()) @can('update', $table->endpoint->source)<details class="menu"><summary class="btn">More</summary><div
        class="w-72"><p><strong>Give the history up</strong></p><p class="s mt-1">All earlier states of {{ $table->name }} go. The table stays, and so does
        what is said under Keep.</p><form class="mt-2" method="post" action="{{ route('tables.history.forget', $table->name) }}">@csrf
        @method('delete')<button class="btn small">Give it up</button></form></div></details>@endcan @endif</div>
</div>
@if ($states->isEmpty())
    <div class="empty"><h2>Nothing stays of {{ $table->name }} after a refresh</h2>
        <p class="mt-2">@can('view', $table->endpoint->source)Say under <a href="{{ route('endpoints.show', [$table->endpoint->source,
            $table->endpoint]) }}#keep">Keep</a> what stays: its last states, or every version of every row. From the next refresh on it is here, can be
            compared, and queried.@else A builder says under Keep what stays of a table.@endcan</p></div>
@else
<div class="body">
    @if ($fault)<p class="diagnosis mb-3" role="alert">{{ $fault }}</p>@endif
    @if (count($states->choices()) > 1)
    <form method="get" class="mb-3 flex flex-wrap items-end gap-3" id="compare">
        <div class="field !mb-0"><label for="from">Compare</label><select class="f" id="from" name="from">
            @foreach ($states->choices() as $one)<option value="{{ $one }}" @selected($one === $from)>{{ $label($one) }}</option>@endforeach</select></div>
        <div class="field !mb-0"><label for="to">with</label><select class="f" id="to" name="to">
            @foreach ($states->choices() as $one)<option value="{{ $one }}" @selected($one === $to)>{{ $label($one) }}</option>@endforeach</select></div>
        <button class="btn">Compare</button>
    </form>
    @endif
    @if ($comparison)@include('tables.compared')@endif
    @if ($states->snapshots->isNotEmpty())
    <h2 class="mt-6 mb-2">States</h2>
    <div class="scroll" tabindex="0" role="region" aria-label="States">
    <table class="rows"><thead><tr><th>Read</th><th>Table</th><th class="n">Rows</th><th class="n">Size</th><th>Replaced</th><th></th></tr></thead><tbody>
    @foreach ($states->snapshots as $one)<tr><td>{{ $show::at($one->state_at, true) }}</td><td class="m">{{ $one->name }}</td>
        <td class="n">{{ $show::number($one->rows) }}</td><td class="n">{{ $show::bytes($states->bytes[$one->name] ?? 0) }}</td>
        <td>{{ $one->until ? $show::ago($one->until) : '' }}</td><td><a href="{{ route('queries.create', ['table' => $one->name]) }}"
        aria-label="Query {{ $one->name }}">Query it</a></td></tr>@endforeach
    </tbody></table></div>
    @endif
    @if ($states->versions)
    <h2 class="mt-6 mb-1">Versions</h2>
    <p class="mb-2 text-sm"><code>{{ $states->versions->name }}</code>: {{ $show::count($states->versions->rows, 'version') }} since
        {{ $show::at($states->versions->state_at) }}, {{ $show::bytes($states->bytes[$states->versions->name] ?? 0) }}. A version is true from
        <code>valid_from</code> until <code>valid_to</code>, which is empty for the present one. <a
        href="{{ route('queries.create', ['table' => $states->versions->name]) }}">Query them</a></p>
    <div class="scroll" tabindex="0" role="region" aria-label="When versions began and ended">
    <table class="rows"><thead><tr><th>At, UTC</th><th class="n">Came</th><th class="n">Changed</th><th class="n">Went</th></tr></thead><tbody>
    @foreach ($states->moments as $one)<tr><td class="m">{{ $one['at'] }}</td><td class="n">{{ $show::number($one['came']) }}</td>
        <td class="n">{{ $show::number($one['changed']) }}</td><td class="n">{{ $show::number($one['went']) }}</td></tr>@endforeach
    </tbody></table></div>
    @endif
    @foreach ($states->ended as $one)<p class="mt-3 text-sm"><code>{{ $one->name }}</code>: versions of before, which ended
        {{ $one->until ? $show::at($one->until) : '' }} because a key or a type became another one. {{ $show::bytes($states->bytes[$one->name] ?? 0) }}. <a
        href="{{ route('queries.create', ['table' => $one->name]) }}">Query them</a></p>@endforeach
</div>
@endif
@endsection
