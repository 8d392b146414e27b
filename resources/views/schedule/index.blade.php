@extends('layouts.app')
@section('title', 'Schedule')
@php
    $link = fn (array $with) => route('schedule.index', array_filter($with + ['day' => $day->format('Y-m-d'), 'span' => $isWeek ? 'week' : null, 'zone' =>
        request('zone'), 'q' => $search, 'sort' => $sort === 'source' ? null : $sort]));
    $step = $isWeek ? 7 : 1;
    $head = fn (string $key, string $label) => new \Illuminate\Support\HtmlString('<a href="'.e($link(['sort' => $key])).'">'.$label.($sort === $key ?
        ' ↓' : '').'</a>');
@endphp
@section('content')
<div class="head">
    <div><nav class="crumbs"><a href="{{ route('runs.index') }}">Runs</a></nav>
        <h1>Schedule <span class="tag">{{ $environment->name }}</span></h1>
        <small>{{ $isWeek ? 'week from' : '' }} {{ $day->format('D j M Y') }}, {{ $zone->getName() }} · {{ $picture->summary() }}</small></div>
    <div class="acts">
        <form method="get" role="search" class="flex flex-wrap items-center gap-2">
            <label class="visually-hidden" for="span">Span</label>
            <select class="f !w-auto" id="span" name="span" data-submits><option value="day">a day</option><option value="week"
                @selected($isWeek)>a week</option></select>
            <label class="visually-hidden" for="day">Day</label><input class="f !w-auto" type="date" id="day" name="day"
                value="{{ $day->format('Y-m-d') }}" data-submits>
            <label class="visually-hidden" for="zone">Time zone</label>
            <select class="f !w-auto" id="zone" name="zone" data-submits>@foreach ($zones as $one)<option value="{{ $one }}" @selected($one ===
                $zone->getName())>{{ $one }}</option>@endforeach</select>
            <label class="visually-hidden" for="q">Endpoint, source or table</label><input class="f !w-44" id="q" name="q" value="{{ $search }}"
                placeholder="endpoint, source, table">
        </form>
        <a class="btn small" href="{{ $link(['day' => $day->copy()->subDays($step)->format('Y-m-d')]) }}" rel="prev">Earlier</a>
        <a class="btn small" href="{{ $link(['day' => $day->copy()->addDays($step)->format('Y-m-d')]) }}" rel="next">Later</a>
    </div>
</div>
@if ($all === 0)
    <div class="empty"><h2>Nothing is refreshed by itself in {{ $environment->name }}</h2>
        <p class="mt-2">Open an endpoint, say under <em>Keep</em> when its table is refreshed, and publish it. A source file says the same under
            <code>keep.refresh</code>.</p></div>
@else
<div class="body">
    @if (session('notice'))<p class="notice mb-2" role="status">{{ session('notice') }}</p>@endif
    @foreach ($picture->crowded() as $sentence)<p class="text-sm"><span class="tag o">crowded</span> {{ $sentence }}</p>@endforeach
    @if ($schedules->isEmpty())<p>No schedule matches “{{ $search }}”. <a href="{{ $link(['q' => null]) }}">Show all</a></p>@else
    <div class="scroll mt-2" tabindex="0" role="region" aria-label="Schedules">
    <table class="rows timetable">
        <thead>
            <tr class="axis"><th colspan="4"></th><td class="strip-cell">@include('schedule.axis')</td><th></th></tr>
            <tr><th>{{ $head('name', 'Endpoint') }} <small>by {{ $head('source', 'source') }}</small></th><th>When</th><th>{{ $head('next', 'Next') }}</th>
                <th class="n" title="the median of the last refreshes">Takes</th><th class="strip-cell">@include('schedule.hours')</th><th></th></tr>
        </thead>
        <tbody>
        @foreach ($schedules as $one)
            <tr id="schedule-{{ $one->id }}">
                <td class="wrap"><a href="{{ \App\View\Show::sheet($one->endpoint) }}#keep">{{ $one->endpoint->name }}</a>
                    <small>{{ $one->endpoint->source->name }}@foreach ($tables->get($one->endpoint_id)?->take(2) ?? [] as $table) · <a class="m"
                    href="{{ route('tables.show', $table->name) }}">{{ $table->name }}</a>@endforeach</small></td>
                <td class="wrap">{{ $picture->when($one) }}</td>
                <td>@if ($one->paused_at)<span class="tag o" title="by {{ $one->pausedBy?->name ??
                    'the command line' }}">paused</span>@elseif ($one->next_at)<time datetime="{{ $one->next_at->format('Y-m-d\TH:i:s\Z') }}"
                    title="{{ $one->next_at->format('Y-m-d H:i') }} UTC">{{ $picture->time($one->next_at->getTimestamp(), true) }}</time>@else—@endif</td>
                <td class="n">{{ $picture->usually($one) === null ? '—' : \App\View\Show::duration(1000 * $picture->usually($one)) }}</td>
                <td class="strip-cell">@include('schedule.strip', ['bars' => $picture->bars($one)])</td>
                <td class="whitespace-nowrap">@can('update', $one->endpoint->source)
                    <form class="inline" method="post" action="{{ route('schedule.now', $one) }}">@csrf<button class="link"
                        aria-label="Refresh {{ $one->endpoint->name }} now">refresh</button></form>
                    <form class="inline" method="post"
                        action="{{ route($one->paused_at ? 'schedule.resume' : 'schedule.pause', $one) }}">@csrf<button class="link"
                        aria-label="{{ $one->paused_at ? 'Resume' : 'Pause' }} {{ $one->endpoint->name }}">{{ $one->paused_at ? 'resume' :
                        'pause' }}</button></form>@endcan</td>
            </tr>
        @endforeach
        </tbody>
    </table>
    </div>
    <p class="s mt-2 timetable-key" aria-hidden="true"><svg width="12" height="10"><rect width="12" height="10" class="done" /></svg> read
        <svg width="12" height="10"><rect x=".5" y=".5" width="11" height="9" class="failed" /></svg> failed or stopped
        <svg width="12" height="10"><rect x=".5" y=".5" width="11" height="9" class="planned" /></svg> due, as long as it usually takes
        <svg width="12" height="10"><rect width="12" height="10" class="out" /></svg> left out, since the one before is still under way</p>
    <x-pages :of="$schedules" one="schedule" />
    @endif
</div>
@endif
@endsection
