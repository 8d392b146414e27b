@extends('layouts.app')
@section('title', "Page {$exchange->number} of run {$run->id}")
@section('content')
<div class="head">
    <div>
        <nav class="crumbs"><a href="{{ route('runs.index') }}">Runs</a> › <a href="{{ route('runs.show', ['run' => $run, 'level' =>
            4]) }}">{{ $run->id }}</a> › page {{ $exchange->number }}</nav>
        <h1>{{ $run->endpoint->name }}, page {{ $exchange->number }}</h1>
        <small>{{ $exchange->status ??
            'no answer' }}, {{ \App\View\Show::bytes($exchange->bytes) }}, {{ \App\View\Show::duration($exchange->timing['total'] ??
            0) }}{{ ($exchange->timing['attempts'] ?? 1) > 1 ? ', at try '.$exchange->timing['attempts'] :
            '' }}, <x-moment :at="$exchange->created_at" /></small>
    </div>
</div>
<div class="body">@include('runs.exchange-body')</div>
@endsection
