@extends('layouts.app')
@section('title', $sheet->title())
@section('go', 'run the query')
@push('head')@vite('resources/js/editor.js')@endpush
@section('content')
<form id="query-form" method="post" action="{{ $query !== null && $mayChange ? route('queries.update', $query) : route('queries.store') }}"
    data-draft-url="{{ route('queries.drafts.store') }}" data-tidy-url="{{ route('queries.tidy') }}" data-complete-url="{{ route('queries.complete') }}"
    data-query="{{ $query?->id }}" data-draft="{{ $sheet->draft?->id }}" data-revision="{{ $sheet->draft?->revision ?? 0 }}">
@csrf
<input type="hidden" name="seen" id="seen" value="{{ session('standing') ?? $sheet->draft?->based_on ?: $query?->version }}">
<input type="hidden" name="draft" id="draft" value="{{ $sheet->draft?->id }}">
<input type="hidden" name="cursor" id="cursor" value="0">
<div class="head">
    <div class="min-w-0">
        <nav class="crumbs"><a href="{{ route('queries.index') }}">Queries</a></nav>
        <h1>{{ $sheet->title() }} @if ($sheet->keep !== null)<a class="tag g" href="#kept">{{ $sheet->keep->is_view ? 'view' :
            'table' }} <span class="m">{{ $sheet->keep->name }}</span></a>@endif @if ($query?->is_private)<span class="tag">only you</span>@endif
            @foreach ($query->labels ?? [] as $label)<a class="tag" href="{{ route('queries.index', ['label' => $label]) }}">{{ $label }}</a>@endforeach</h1>
        @if ($query)<small>{{ $sheet->saved() }} · <a href="{{ route('queries.versions', $query) }}">versions</a></small>@endif
        @if ($query?->description)<p class="s max-w-[640px]">{{ $query->description }}</p>@endif
    </div>
    <div class="acts" data-slow>
        <span class="s" data-waiting role="status"></span>
        <button type="button" class="btn" id="stop" data-url="{{ route('queries.stop') }}" hidden>Stop</button>
        <button type="button" class="btn" id="tidy">Tidy</button>
        @include('queries.export')
        @include('queries.save')
        <button type="button" class="btn go" data-go @if ($sheet->runs) hx-trigger="click, load" @endif
            hx-post="{{ route('queries.run') }}" hx-include="#sql, #cursor, #asks" hx-target="#result"
            hx-disabled-elt="this">Run <span class="font-normal opacity-80">Ctrl ↵</span></button>
    </div>
</div>
@error('name')<p class="diagnosis mx-6 mb-2" role="alert">{{ $message }}</p>@enderror
@error('is_private')<p class="diagnosis mx-6 mb-2" role="alert">{{ $message }}</p>@enderror
@error('sql')<p class="diagnosis mx-6 mb-2" role="alert">{{ $message }} @if (session('standing'))<a
    href="{{ route('queries.versions', $query) }}">See what it says now</a>. Save again to put yours on top of it.@endif @if (session('losing'))Save again to do it all the
    same.<input type="hidden" name="lose" value="1">@endif</p>@enderror
@if ($sheet->draft !== null && ! $errors->any())<p class="note mx-6 mb-2">Not saved: what you wrote {{ \App\View\Show::ago($sheet->draft->updated_at) }}.
    @if ($query && $sheet->draft->based_on < $query->version)Version {{ $query->version }} was saved since. <a
        href="{{ route('queries.versions', $query) }}">See what it says</a>. @endif
    <button class="link" form="discard">Throw it away</button></p>@endif
<div class="cols"><div>What you ask</div><div></div><div>What came back</div></div>
<div class="sheet asking">
    <div class="cell last min-w-0">
        <div class="editor"><label class="visually-hidden" for="sql">SQL</label><textarea class="f" id="sql" name="sql" rows="14" data-sql
            spellcheck="false">{{ old('sql', $sheet->sql) }}</textarea></div>
        <p class="s mt-1 flex flex-wrap gap-x-4"><span id="draft-state" role="status">{{ $sheet->draft === null ? '' :
            'Kept as a draft.' }}</span><span>Ctrl+Space completes. Of several statements the one at the cursor is run.</span></p>
        <details id="building" class="mt-3"><summary><h2 class="inline">Build it</h2> <small>by picking, in step with the text</small></summary><div
            id="build" data-url="{{ route('queries.build') }}"></div></details>
        @include('queries.asks', ['asked' => $sheet->asked, 'choices' => $sheet->choices])
        @include('queries.beside')
    </div>
    <div class="spine"><span class="node no">1</span></div>
    <div class="cell last min-w-0" id="result"><p
        class="s">Ctrl+Enter runs the query. It reads only, for at most {{ config('spring.query.seconds') }} s, and shows the first
            {{ \App\View\Show::number(config('spring.query.rows')) }} rows; the rest is read as you scroll to it.</p></div>
</div>
</form>
@if ($sheet->draft !== null)<form id="discard" method="post" action="{{ route('queries.drafts.destroy', $sheet->draft->id) }}">@csrf
    @method('delete')</form>@endif
@if ($query !== null && $mayChange)<form id="delete-query" method="post" action="{{ route('queries.destroy', $query) }}">@csrf
    @method('delete')</form>@endif
@if ($query !== null)@include('queries.kept')@endif
@endsection
