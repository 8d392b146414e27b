@extends('layouts.app')
@section('title', 'Add a source')
@section('go', 'add the source')
@section('content')
<div class="head"><div><nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a></nav><h1>Add a source</h1></div></div>
<div class="grid grid-cols-[minmax(0,1fr)_420px] gap-10 px-6 pb-10">
    <form method="post" action="{{ route('sources.store') }}" enctype="multipart/form-data" data-busy="reading what you gave">
        @csrf
        <div class="field">
            <label for="start">Whatever you have at hand</label>
            <textarea class="f" id="start" name="start" rows="6" spellcheck="false" autofocus placeholder="https://api.saltmarsh.example/v2"
                aria-describedby="start-advice" @error('start') aria-invalid="true" @enderror
                hx-post="{{ route('address') }}" hx-trigger="input changed delay:350ms" hx-target="#start-advice" hx-swap="innerHTML"
                    hx-params="start,field" hx-vals='{"field": "start"}' hx-sync="this:replace">{{ old('start') }}</textarea>
            <div id="start-advice" role="status">
                @foreach ($errors->get('start') as $message)<p class="fault">{{ $message }}</p>@endforeach
                @if (is_string(request('offer')) && request('offer') !== '')
                    <p class="s">Did you mean <code>{{ request('offer') }}</code>? <button type="button" class="btn small" data-fill="start"
                        data-value="{{ request('offer') }}">Take that</button></p>
                @endif
            </div>
        </div>
        <div class="field"><label for="files">or files
            <small>OpenAPI or Swagger (JSON, YAML, a zip), HAR, source files; with a cURL command, the files that it names;
            or one file of rows (CSV, XLSX)</small></label><input
            class="f" id="files" name="files[]" type="file" multiple accept=".yaml,.yml,.json,.har,.txt,.zip,.csv,.tsv,.xlsx"></div>
        <div class="grid grid-cols-2 gap-4">
            <div class="field">
                <label for="name">Name <small>made from the address when empty</small></label>
                <input class="f" id="name" name="name" value="{{ old('name') }}" placeholder="Loans desk" @error('name') aria-invalid="true" @enderror>
                @error('name')<p class="fault">{{ $message }}</p>@enderror
            </div>
            <div class="field">
                <label for="slug">Short name <small>for files and commands</small></label>
                <input class="f" id="slug" name="slug" value="{{ old('slug') }}" placeholder="loans-desk" @error('slug') aria-invalid="true" @enderror>
                @error('slug')<p class="fault">{{ $message }}</p>@enderror
            </div>
        </div>
        <p class="mb-2 text-sm"><label><input type="checkbox" name="read" value="1" @checked(old('read') === '1')>
            the address is one of a description: fetch it and read it</label></p>
        <button class="btn go" data-go>Add the source <span class="font-normal opacity-80">Ctrl ↵</span></button>
        <small class="ml-2" data-busy-place
            role="status">It is added in {{ $environment->name }} and tested at once. Of a description with many operations you choose first.</small>
    </form>
    <div class="text-sm">
        <h2 class="mb-1">From the shelf</h2>
        <p class="s mb-1">Ready descriptions: pick one, give it its secrets, test it.</p>
        <table class="rows mb-4"><tbody>
        @forelse ($shelf as $name => $one)
            <tr><td><strong>{{ $one['title'] }}</strong><br><span class="s wrap">{{ mb_strimwidth($one['about'], 0, 64, '…', 'UTF-8') }}</span></td>
                <td class="n">@if (in_array($name, $taken, true))<span class="tag g">already added</span>@else<form method="post"
                action="{{ route('sources.store') }}">@csrf<input type="hidden" name="shelf" value="{{ $name }}"><button class="btn small"
                aria-label="Use this: {{ $one['title'] }}">Use this</button></form>@endif</td></tr>
        @empty
            <tr><td class="s">Nothing. An administrator puts source files and OpenAPI files into <code>{{ config('spring.shelf') }}</code>.</td></tr>
        @endforelse
        </tbody></table>
        <h2 class="mb-1">An address</h2>
        <p class="s mb-3">The documentation calls it base URL, host or endpoint. Mistakes in it are pointed out as you type.
            With a query in it, its path becomes the first endpoint; one that ends in
            <code>.json</code> or <code>.yaml</code> is fetched and read.</p>
        <h2 class="mb-1">cURL commands</h2>
        <p class="s mb-1">As documentations give them, and as a browser copies them from its network panel. Keys and passwords go straight to the secrets.</p>
        <pre class="ev">curl -H 'X-Freight-Key: …' \
  'https://track.saltmarsh.example/v3/ping'</pre>
    </div>
</div>
@endsection
