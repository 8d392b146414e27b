@extends('layouts.app')
@section('title', "{$source->name}: source file")
@section('go', 'keep as the draft')
@section('content')
<form method="post" action="{{ route('sources.file.update', $source) }}">
@csrf
<div class="head">
    <div><nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a> › <a
        href="{{ route('sources.show', $source) }}">{{ $source->name }}</a></nav><h1>Source file</h1></div>
    <div class="acts"><a class="btn" href="{{ route('sources.export', $source) }}">Export</a><button class="btn go" data-go>Keep as the draft <span
        class="font-normal opacity-80">Ctrl ↵</span></button></div>
</div>
<div class="body">
    @if ($faults !== [])
        <div class="diagnosis" role="alert"><strong>Not kept: {{ count($faults) === 1 ? 'one thing is' :
            count($faults).' things are' }} wrong.</strong> What you typed is below.<ul class="mt-1">@foreach ($faults as $fault)<li
            class="m">{{ (string) $fault }}</li>@endforeach</ul></div>
    @endif
    <label class="visually-hidden" for="text">The source file as YAML</label>
    <textarea class="f" id="text" name="text" rows="34" spellcheck="false">{{ $text }}</textarea>
</div>
</form>
@endsection
