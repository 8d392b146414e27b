@extends('layouts.app')
@section('title', 'Add an endpoint')
@section('go', 'add the endpoint')
@section('content')
<div class="head"><div><nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a> › <a href="{{ route('sources.show', $source) }}">{{ $source->name }}</a></nav><h1>Add an endpoint</h1></div></div>
<form class="body max-w-[640px]" method="post" action="{{ route('endpoints.store', $source) }}">
    @csrf
    <div class="field">
        <label for="path">Path <small>after <code>{{ $source->inHand()->source()->base($environment->slug) ?? '{base}' }}</code>; what varies in curly braces</small></label>
        <input class="f" id="path" name="path" value="{{ old('path', '/') }}" placeholder="/loans/{house}" required autofocus @error('path') aria-invalid="true" @enderror>
        @error('path')<p class="fault">{{ $message }}</p>@enderror
    </div>
    <div class="field">
        <label for="name">Name <small>as you would say it to a colleague; made from the path when empty</small></label>
        <input class="f" id="name" name="name" value="{{ old('name') }}" placeholder="Loans out, newest first">
    </div>
    <button class="btn go" data-go>Add the endpoint <span class="font-normal opacity-80">Ctrl ↵</span></button>
</form>
@endsection
