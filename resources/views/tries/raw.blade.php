@extends('layouts.app')
@section('title', 'An answer as text')
@section('content')
<div class="head"><div>
    <nav class="crumbs"><a href="{{ route('sources.show', $source) }}">{{ $source->name }}</a> › <a
        href="{{ route('tries.show', $try) }}">Try of <x-moment :at="$try->created_at" /></a></nav>
    <h1>The answer as text <span class="tag">{{ \App\View\Show::bytes($raw->bytes) }}</span></h1>
</div>
<div class="acts"><form method="get" class="flex items-center gap-2"><label class="visually-hidden" for="q">Search the answer</label><input
    class="f !w-64" id="q" name="q" value="{{ $raw->search }}" placeholder="search in the answer" data-find><button class="btn">Search</button></form>
    <a class="btn" href="{{ route('tries.body', [$try, $exchange->number]) }}" target="_blank">Raw</a></div></div>
<div class="body">
@if ($raw->isGone())
    <p class="s">The body of this answer is no longer kept.</p>
@else
    @if ($raw->search !== '')
        <p class="mb-1">{{ $raw->hits === [] ? 'Nothing found.' : \App\View\Show::count(count($raw->hits), 'place').($raw->hasMore ? ', and more' : '') }}</p>
        @if ($raw->hits !== [])<div class="ev tall mb-3 !max-h-[220px]" tabindex="0" role="region"
            aria-label="Places found">@foreach ($raw->hits as [$at, $around])<a class="block py-1"
            href="{{ route('tries.raw', [$try, $exchange->number, 'q' => $raw->search, 'at' => max(0, $at - 200)]) }}"><span
            class="dim">{{ \App\View\Show::number($at) }}</span> {{ $around }}</a>@endforeach</div>@endif
    @endif
    <p class="s mb-1">From byte {{ \App\View\Show::number($raw->from) }}@if ($raw->previous() !== null) · <a
        href="{{ route('tries.raw', [$try, $exchange->number, 'q' => $raw->search, 'at' => $raw->previous()]) }}">earlier</a>@endif
        @if ($raw->next() !== null) · <a href="{{ route('tries.raw', [$try, $exchange->number, 'q' => $raw->search, 'at' =>
        $raw->next()]) }}">later</a>@endif</p>
    <pre class="ev">{{ $raw->window() }}</pre>
@endif
</div>
@endsection
