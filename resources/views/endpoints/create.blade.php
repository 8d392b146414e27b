@extends('layouts.app')
@section('title', 'Add endpoints')
@section('go', 'add what you gave')
@section('content')
@php($from = collect($source->current()->document['endpoints'] ?? [])->firstWhere('slug', request('from')))
@php($likely = \DeepSpring\Ask\EndpointRole::tryFrom((string) request('does')))
@php($guess = $from !== null && $likely !== null ? \DeepSpring\Ask\RecordSets::likely(\DeepSpring\Ask\RecordSets::path($from['ask']['path']), $likely,
    str_contains($from['ask']['path'], '}') ? $from['ask']['path'] : null) : ['GET', '/'])
<div class="head"><div><nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a> › <a
    href="{{ route('sources.show', $source) }}">{{ $source->name }}</a></nav><h1>Add endpoints</h1></div></div>
<div class="grid grid-cols-2 gap-10 px-6 pb-10">
<form method="post" action="{{ route('endpoints.store', $source) }}">
    @csrf
    <h2 class="mb-2">By hand</h2>
    <div class="field">
        <label for="path">Path <small>after <code>{{ $source->current()->source()->base($environment->slug) ??
            '{base}' }}</code>; what varies in curly braces</small></label>
        <input class="f" id="path" name="path" value="{{ old('path', $guess[1]) }}" placeholder="/loans/{house}" required autofocus spellcheck="false"
            @error('path') aria-invalid="true" @enderror>
        @error('path')<p class="fault">{{ $message }}</p>@enderror
    </div>
    <div class="grid grid-cols-2 gap-4">
        <div class="field"><label for="does">What it does</label><select class="f" id="does" name="does">
            <option value="">what its method and path say</option>@foreach (\App\View\Show::ROLES as $role => $label)<option value="{{ $role }}"
            @selected(old('does', $likely?->value) === $role)>{{ $label }}</option>@endforeach</select></div>
        <div class="field"><label for="method">Method</label><select class="f" id="method" name="method">
            @foreach (['' => 'the usual one', 'GET' => 'GET', 'POST' => 'POST', 'PUT' => 'PUT', 'PATCH' => 'PATCH', 'DELETE' => 'DELETE', 'HEAD' =>
            'HEAD'] as $method => $label)<option value="{{ $method }}" @selected(old('method') === $method)>{{ $label }}</option>@endforeach</select></div>
    </div>
    <div class="field">
        <label for="name">Name <small>as you would say it to a colleague; made from the path when empty</small></label>
        <input class="f" id="name" name="name" value="{{ old('name') }}" placeholder="Loans out, newest first">
    </div>
    <button class="btn go" data-go>Add the endpoint <span class="font-normal opacity-80">Ctrl ↵</span></button>
</form>
<form method="post" action="{{ route('sources.import', $source) }}" enctype="multipart/form-data" data-busy="reading what you gave">
    @csrf
    <h2 class="mb-2">From what you have at hand</h2>
    <div class="field">
        <label for="start">cURL commands, or the address of a description</label>
        <textarea class="f" id="start" name="start" rows="7" spellcheck="false"
            placeholder="curl -X POST '{{ $source->current()->source()->base($environment->slug) }}/…'" @error('start') aria-invalid="true"
            @enderror>{{ old('start') }}</textarea>
        @foreach ($errors->get('start') as $message)<p class="fault">{{ $message }}</p>@endforeach
    </div>
    <div class="field"><label for="files">or files
        <small>OpenAPI or Swagger, a zip of them, HAR; with a cURL command, the files that it names</small></label><input class="f" id="files"
        name="files[]" type="file" multiple accept=".yaml,.yml,.json,.har,.txt,.zip"></div>
    <button class="btn">Read it</button> <small class="ml-2" data-busy-place
        role="status">You choose from what is found. A newer file of the same API shows what changed, and keeps what you edited.</small>
</form>
</div>
@endsection
