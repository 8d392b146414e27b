@extends('layouts.app')
@section('title', 'Journal')
@section('content')
@php($show = \App\View\Show::class)
<div class="head">
    <div><nav class="crumbs"><a href="{{ route('tables.index') }}">Tables</a></nav><h1>Journal <span class="tag">{{ $environment->name }}</span></h1>
        <small>what was changed at services from here; added to and never changed</small></div>
    <a class="btn ml-auto" href="{{ route('journal.export', $wanted) }}">As CSV</a>
</div>
<div class="px-6 pb-10">
    <form class="mb-3 flex flex-wrap gap-3" role="search">
        <label class="visually-hidden" for="q">Search the journal</label>
        <input class="f !w-60" id="q" name="q" value="{{ $wanted['q'] ?? '' }}" placeholder="record, person, value">
        <label class="visually-hidden" for="table">Table</label><input class="f !w-36" id="table" name="table" value="{{ $wanted['table'] ?? '' }}"
            placeholder="table">
        <label class="visually-hidden" for="record">Record</label><input class="f !w-32" id="record" name="record"
            value="{{ $wanted['record'] ?? '' }}" placeholder="record, by key">
        <label class="visually-hidden" for="outcome">Outcome</label>
        <select class="f !w-auto" id="outcome" name="outcome" data-submits><option value="">whatever came of it</option>
            @foreach (['done', 'refused', 'conflict', 'unknown'] as $one)<option @selected($one === ($wanted['outcome'] ?? ''))>{{ $one }}</option>@endforeach</select>
        <label class="visually-hidden" for="since">Since</label><input class="f !w-36" id="since" name="since" type="date"
            value="{{ $wanted['since'] ?? '' }}">
        <button class="btn">Find</button>
    </form>
    @if ($entries->isEmpty())
        <div class="empty !m-0"><h2>{{ $wanted === [] ? 'Nothing was changed from here yet' : 'No entry matches' }}</h2>
            <p class="mt-2">@if ($wanted === [])Open a table and press “Change rows”. Every change that is sent stands here then, with what was asked and answered.@else<a
                href="{{ route('journal.index') }}">Show everything</a>@endif</p></div>
    @else
        <div class="scroll" tabindex="0" role="region" aria-label="Entries"><table class="rows">
            <thead><tr><th>When ({{ $show::zone() }})</th><th>Who</th><th>Table</th><th>Record</th><th>What</th><th>Came of it</th><th>From</th></tr></thead>
            <tbody>
            @foreach ($entries as $one)
                <tr>
                    <td><a href="{{ route('journal.show', $one->id) }}">{{ $show::at($one->at, true) }}</a></td>
                    <td>{{ $one->person_name }}</td>
                    <td class="m"><a href="{{ route('journal.index', ['table' => $one->table]) }}">{{ $one->table }}</a></td>
                    <td class="m"><a href="{{ route('journal.index', ['table' => $one->table, 'record' => $one->record]) }}">{{ $one->record }}</a></td>
                    <td class="wrap">{{ \DeepSpring\Change\RecordAct::from($one->kind)->past() }}{{ $one->undoes === null ? '' : ', taking back' }}
                        <span class="m s">@foreach (array_slice($one->after_, 0, 3) as $name => $value){{ $name }} {{ array_key_exists($name, $one->before_) ?
                        mb_strimwidth($one->before_[$name] ?? '—', 0, 30, '…').' → ' : '' }}{{ mb_strimwidth($value ?? '—', 0, 40, '…') }}{{ $loop->last ? '' : ', ' }}@endforeach</span></td>
                    <td><span @class(['tag', 'g' => $one->outcome === 'done', 'i' => $one->outcome !== 'done'])>{{ $one->outcome }}</span> <span
                        class="s">{{ $one->status }}</span></td>
                    <td>{{ $one->via }}</td>
                </tr>
            @endforeach
            </tbody>
        </table></div>
        <x-newer-older :of="$entries" />
    @endif
</div>
@endsection
