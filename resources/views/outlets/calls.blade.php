@extends('layouts.app')
@section('title', "Requests for $feed->name")
@section('content')
<div class="head">
    <div><nav class="crumbs"><a href="{{ route('outlets.index') }}">Outlets</a> › <a href="{{ route('outlets.feed', $feed) }}">{{ $feed->name }}</a></nav>
        <h1>Requests <span class="tag">version {{ $feed->version }}</span></h1><small>kept for 90 days; keys never stand in them</small></div>
    <div class="acts"><form method="get" role="search"><input type="hidden" name="which" value="{{ $which }}"><label class="visually-hidden" for="q">A part of
        what was asked</label><input class="f" id="q" name="q" value="{{ $search }}" placeholder="what was asked"></form></div>
</div>
<nav class="mx-6 mb-2 flex gap-1" aria-label="Which">@foreach (['' => 'the last ones', 'refused' => 'refused', 'slow' => 'the slowest first'] as $key => $label)<a
    @class(['tag', 'g' => $which === $key]) @if ($which === $key) aria-current="true" @endif href="?{{ http_build_query(array_filter(['which' => $key,
    'q' => $search])) }}">{{ $label }}</a>@endforeach</nav>
<div class="body">
    @if ($calls->isEmpty() && $calls->currentPage() === 1)<p class="s">{{ $search !== '' || $which !== '' ? 'No request is like that.' : 'Nobody has asked for it yet.' }}</p>
    @else @include('outlets.call-rows', ['showsFeed' => false])
    <nav class="mt-2 flex gap-3 text-sm" aria-label="Pages">@if ($calls->previousPageUrl())<a href="{{ $calls->previousPageUrl() }}"
        rel="prev">Previous</a>@endif @if ($calls->nextPageUrl())<a href="{{ $calls->nextPageUrl() }}" rel="next">Next</a>@endif</nav>@endif
</div>
@endsection
