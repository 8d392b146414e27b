@extends('layouts.app')
@section('title', 'Add a source')
@section('go', 'add the source')
@section('content')
<div class="head"><div><nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a></nav><h1>Add a source</h1></div></div>
<div class="grid grid-cols-2 gap-10 px-6 pb-10">
    <form method="post" action="{{ route('sources.store') }}">
        @csrf
        <h2 class="mb-1">From its address</h2>
        <p class="s mb-4">The documentation calls it base URL, host or endpoint. Access and endpoints come next.</p>
        <div class="field">
            <label for="base">Base address in {{ $environment->name }}</label>
            <input class="f" id="base" name="base" value="{{ old('base') }}" placeholder="https://api.saltmarsh.example/v2" required @error('base') aria-invalid="true" aria-describedby="base-fault" @enderror autofocus>
            @error('base')<p class="fault" id="base-fault">{{ $message }}</p>@enderror
            @if (is_string(request('offer')) && request('offer') !== '')
                <p class="s">Did you mean <code>{{ request('offer') }}</code>? <button type="button" class="btn small" data-fill="base" data-value="{{ request('offer') }}">Take that</button></p>
            @endif
        </div>
        <div class="field">
            <label for="name">Name</label>
            <input class="f" id="name" name="name" value="{{ old('name') }}" placeholder="Loans desk" @error('name') aria-invalid="true" @enderror>
            @error('name')<p class="fault">{{ $message }}</p>@enderror
        </div>
        <div class="field">
            <label for="slug">Short name <small>for files and the command line; made from the name when empty</small></label>
            <input class="f" id="slug" name="slug" value="{{ old('slug') }}" placeholder="loans-desk" @error('slug') aria-invalid="true" @enderror>
            @error('slug')<p class="fault">{{ $message }}</p>@enderror
        </div>
        <button class="btn go" data-go>Add the source <span class="font-normal opacity-80">Ctrl ↵</span></button>
    </form>
    <form method="post" action="{{ route('sources.import') }}" enctype="multipart/form-data">
        @csrf
        <h2 class="mb-1">From a source file</h2>
        <p class="s mb-4">YAML or JSON, as <em>Export</em> writes it. It holds no secrets; you give those after.</p>
        @if (($faults ?? []) !== [])
            <div class="diagnosis" role="alert"><strong>The file was not taken.</strong> Nothing was changed.<ul class="mt-1">@foreach ($faults as $fault)<li>{{ ucfirst((string) $fault) }}</li>@endforeach</ul></div>
        @endif
        <div class="field"><label for="file">A file</label><input class="f" id="file" name="file" type="file" accept=".yaml,.yml,.json"></div>
        <div class="field"><label for="text">or its text</label><textarea class="f" id="text" name="text" rows="12" spellcheck="false" placeholder="deepspring: 1&#10;source:&#10;  slug: loans-desk">{{ $text ?? '' }}</textarea></div>
        <button class="btn">Import</button>
    </form>
</div>
@endsection
