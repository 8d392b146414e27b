@extends('layouts.app')
@section('title', $sheet->endpoint['name'].': what is asked for')
@section('content')
<div class="head">
    <div>
        <nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a> › <a href="{{ route('sources.show', $source) }}">{{ $source->name }}</a> › <a href="{{ route('services.set', [$source, $sheet->set->name]) }}">{{ $sheet->set->name }}</a> › <a href="{{ route('endpoints.show', [$source, $sheet->row]) }}">{{ $sheet->endpoint['name'] }}</a></nav>
        <h1>What is asked for</h1>
    </div>
    <div class="acts" data-slow>
        <span class="s" data-waiting role="status"></span>
        <a class="btn" href="{{ route('endpoints.show', [$source, $sheet->row]) }}">To the sheet: try and keep</a>
        @can('update', $source)<button type="button" class="btn go" data-go hx-post="{{ route('endpoints.choice.preview', [$source, $sheet->row]) }}" hx-include="#choice-form" hx-target="#choosing" hx-swap="outerHTML" hx-disabled-elt="this">Look at 20 rows <span class="font-normal opacity-80">Ctrl ↵</span></button>@endcan
    </div>
</div>
<div class="cols"><div>What you choose from {{ $sheet->set->name }}</div><div></div><div>What that is</div></div>
@include('services.choosing')
@endsection
