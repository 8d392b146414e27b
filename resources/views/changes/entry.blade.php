@extends('layouts.app')
@section('title', "$entry->table $entry->record")
@section('content')
@php($show = \App\View\Show::class)
@php($types = array_column($table?->columns ?? [], 'type', 'given'))
@php($names = array_keys($entry->kind === 'delete' ? $entry->before_ : $entry->after_))
<div class="head">
    <div><nav class="crumbs"><a href="{{ route('journal.index') }}">Journal</a> › <a class="m"
        href="{{ route('journal.index', ['table' => $entry->table]) }}">{{ $entry->table }}</a></nav>
        <h1>{{ $entry->table }} {{ $entry->record }} {{ \DeepSpring\Change\RecordAct::from($entry->kind)->past() }} <span
            @class(['tag', 'g' => $entry->outcome === 'done', 'i' => $entry->outcome !== 'done'])>{{ $entry->outcome }}</span></h1>
        <small>{{ $entry->person_name }}, {{ $show::at($entry->at,
            true) }}, {{ $entry->via }}, {{ $entry->source }} › {{ $entry->endpoint }} in {{ $entry->environment }}{{
            $entry->milliseconds === null ? '' : ', '.$show::duration($entry->milliseconds) }}</small></div>
    @if ($entry->outcome === 'done' && $takenBack === null && $entry->kind !== 'call')<form class="ml-auto" method="post"
        action="{{ route('journal.back', $entry->id) }}">@csrf<button
        class="btn">Take it back …</button></form>@endif
</div>
<div class="px-6 pb-10">
    @error('back')<div class="diagnosis" role="alert">{{ $message }}</div>@enderror
    @if ($takenBack !== null)<p class="note live" role="note">Taken back by <a
        href="{{ route('journal.show', $takenBack->id) }}">{{ $takenBack->person_name }}, {{ $show::ago($takenBack->at) }}</a>.</p>@endif
    @if ($entry->undoes !== null)<p class="note live" role="note">This takes back <a
        href="{{ route('journal.show', $entry->undoes) }}">an earlier change</a>.</p>@endif
    @if ($entry->reason !== '')<p class="mb-3">{{ $entry->reason }}</p>@endif
    @if ($names !== [])<table class="rows max-w-[900px]"><thead><tr><th>column</th><th>before</th><th>after</th></tr></thead><tbody>
        @foreach ($names as $name)<tr><td class="m">{{ $name }}</td><td
            class="m wrap">{{ $show::cell($entry->before_[$name] ?? null, $types[$name] ?? 'text') }}</td><td
            class="m wrap">{{ $entry->kind === 'delete' ? '' : $show::cell($entry->after_[$name] ?? null, $types[$name] ?? 'text') }}</td></tr>@endforeach
    </tbody></table>@endif
    <div class="mt-4 grid gap-4 lg:grid-cols-2">
        <section><h2>What was asked</h2><pre class="ev tall" tabindex="0">{{ $entry->request === '' ? 'Nothing was sent.' : $entry->request }}</pre></section>
        <section><h2>What was answered</h2><pre class="ev tall" tabindex="0">{{ $entry->answer === '' ? 'No answer.' : $entry->answer }}</pre></section>
    </div>
    @if ($others->isNotEmpty())<h2 class="mt-4">What else happened to {{ $entry->record }}</h2>
    <ul class="mt-1">@foreach ($others as $one)<li><a
        href="{{ route('journal.show', $one->id) }}">{{ $show::at($one->at, true) }}</a>: {{ $one->person_name }},
        {{ \DeepSpring\Change\RecordAct::from($one->kind)->past() }}, {{ $one->outcome }}</li>@endforeach</ul>@endif
</div>
@endsection
