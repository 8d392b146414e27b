@extends('layouts.app')
@section('title', 'Notes')
@php
    $isNarrowed = $search !== '' || $kind || $source !== '';
    $link = fn (array $with) => route('notes.index', array_filter($with + ['q' => $search, 'state' => $state === 'open' ? null : $state, 'kind' =>
        $kind?->value, 'source' => $source, 'sort' => $sort === 'raised' ? null : $sort]));
    $head = fn (string $key, string $label) => new \Illuminate\Support\HtmlString('<a href="'.e($link(['sort' => $key])).'">'.$label.($sort === $key ?
        ' ↓' : '').'</a>');
@endphp
@section('content')
<div class="head">
    <div><h1>Notes <span class="tag">{{ $environment->name }}</span></h1>
        <small>what is wrong now, each raised once and closed when its cause is gone</small></div>
    <div class="acts">
        <form method="get" role="search" class="flex flex-wrap items-center gap-2">
            <label class="visually-hidden" for="state">State</label>
            <select class="f !w-auto" id="state" name="state" data-submits>@foreach ($states as $value => $label)<option value="{{ $value }}"
                @selected($state === $value)>{{ $label }}</option>@endforeach</select>
            <label class="visually-hidden" for="kind">Kind</label>
            <select class="f !w-auto" id="kind" name="kind" data-submits><option value="">of every kind</option>
                @foreach (\App\Models\NoteKind::cases() as $one)<option value="{{ $one->value }}" @selected($kind === $one)>{{ $one->title() }}</option>
                @endforeach</select>
            @if ($sources->isNotEmpty())<label class="visually-hidden" for="source">Source</label>
            <select class="f !w-auto" id="source" name="source" data-submits><option value="">every source</option>
                @foreach ($sources as $slug => $name)<option value="{{ $slug }}" @selected($source === $slug)>{{ $name }}</option>@endforeach</select>@endif
            <label class="visually-hidden" for="q">Words of a note</label><input class="f !w-44" id="q" name="q" value="{{ $search }}"
                placeholder="words of a note">
        </form>
        <a class="btn" href="{{ route('notes.following') }}">What you follow</a>
    </div>
</div>
@if ($notes->isEmpty())
    <div class="empty">
        @if ($isNarrowed)<h2>No note matches</h2><p class="mt-2"><a href="{{ $link(['q' => null, 'kind' => null, 'source' => null]) }}">Show all of
            them</a></p>
        @elseif ($state === 'open')<h2>Nothing is wrong in {{ $environment->name }}</h2>
            <p class="mt-2 mb-3">A note is raised when a refresh fails, a check is broken, records change, or a secret ends. Follow what matters to you,
                and you are told by mail or at an address of yours.</p>
            <a class="btn go" href="{{ route('notes.following') }}">Follow something</a>
        @else<h2>No note is {{ $states[$state] }}</h2><p class="mt-2"><a href="{{ route('notes.index') }}">Show what is open</a></p>@endif
    </div>
@else
<div class="body">
    <div class="scroll" tabindex="0" role="region" aria-label="Notes">
    <table class="rows notes">
        <thead><tr><th>What</th><th>{{ $head('title', 'Concerns') }}</th><th></th><th>{{ $head('since', 'Since') }}</th>
            <th>{{ $head('raised', 'Raised') }}</th><th>{{ $state === 'open' ? '' : 'State' }}</th></tr></thead>
        <tbody>
        @foreach ($notes as $note)
            <tr>
                <td><span class="tag {{ $note->is_failure ? 'i' : 'o' }}">{{ $note->kind->label() }}</span></td>
                <td class="wrap"><a href="{{ route('notes.show', $note) }}">{{ $note->title }}</a>@if ($role->mayBuild() && $note->source && $note->source->name
                    !== $note->title)<br><small>{{ $note->source->name }}</small>@endif</td>
                <td class="wrap">{{ $note->sentenceFor($role) }}@if ($note->isOpen() && $note->meanwhile)<br><small>{{ $note->meanwhile }}</small>@endif</td>
                <td><time datetime="{{ $note->since->format('Y-m-d\TH:i:s\Z') }}">{{ \App\View\Show::at($note->since) }}</time></td>
                <td>{{ \App\View\Show::ago($note->raised_at) }}</td>
                <td>@if ($note->closed_at)<span class="tag g">over</span> {{ \App\View\Show::ago($note->closed_at) }}@elseif ($note->isAside())<span
                    class="tag">put aside</span> until {{ \App\View\Show::at($note->aside_until) }}@endif</td>
            </tr>
        @endforeach
        </tbody>
    </table>
    </div>
    <x-pages :of="$notes" one="note" />
</div>
@endif
@endsection
