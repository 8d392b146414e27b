@extends('layouts.app')
@section('title', 'Choose endpoints')
@section('go', 'add what is chosen')
@section('content')
@php($described = $page->described)
@php($source = $page->source)
@php($merge = $page->merge)
@php($count = $page->count())
@php($refused = count($described->refused()))
<div class="head"><div>
    <nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a>@if ($source) › <a
        href="{{ route('sources.show', $source) }}">{{ $source->name }}</a>@endif</nav>
    <h1>{{ $described->title !== '' ? $described->title : ['curl' => 'cURL commands', 'har' => 'HAR file'][$described->kind] ?? 'A description' }}
        <span class="tag">{{ \App\View\Show::count($count, 'operation') }}</span></h1>
</div></div>
<form method="post" action="{{ route('imports.apply', $page->import) }}" data-collect="chosen" class="grid grid-cols-[minmax(0,1fr)_400px] gap-10 px-6 pb-10">
    @csrf
    <input type="hidden" id="chosen" name="chosen">
    <div>
        @error('chosen')<p class="fault mb-1" role="alert">{{ $message }}</p>@enderror
        @if ($count > 0)
        @if ($refused > 0)<p class="note mb-2"><strong>{{ \App\View\Show::count($refused, 'operation') }} cannot be kept</strong>
            as {{ $refused === 1 ? 'it is; the reason stands beside it' : 'they are; the reason stands beside each' }}.</p>@endif
        <div class="mb-2 flex flex-wrap items-center gap-3">
            <label class="visually-hidden" for="filter">Search operations</label>
            <input class="f !w-72" id="filter" type="search" name="q" placeholder="search by path, name or tag" data-find value="{{ $page->search }}"
                @if ($page->isPaged()) hx-get="{{ route('imports.show', $page->import) }}" hx-trigger="input changed delay:250ms, search"
                hx-params="q" hx-target="#operations" hx-swap="outerHTML" @else data-filter="#operations [data-row]" @endif>
            <button type="button" class="link" data-check="all">Choose all that are shown</button>
            <button type="button" class="link" data-check="none">none</button>
            <span class="s ml-auto" data-chosen="{{ $page->isPaged() ? $count : '' }}" role="status"></span>
        </div>
        @include('imports.operations')
        @endif
        @includeWhen($merge !== null, 'imports.changes')
    </div>
    <div class="text-sm">
        <h2 class="mb-2">{{ $source ? 'Into '.$source->name : 'A new source' }}</h2>
        @unless ($source)
            <div class="field"><label for="name">Name</label><input class="f" id="name" name="name"
                value="{{ old('name', request('name') ?: ($described->title !== '' ? $described->title : ucfirst(str_replace('-', ' ', $slug)))) }}"></div>
            <div class="field"><label for="slug">Short name</label><input class="f" id="slug" name="slug"
                value="{{ old('slug', request('slug') ?: $slug) }}" @error('slug') aria-invalid="true" @enderror>@error('slug')<p
                class="fault">{{ $message }}</p>@enderror</div>
            <div class="field"><label for="base">Base address in {{ $environment->name }}</label><input class="f" id="base" name="base" list="bases"
                value="{{ old('base', $described->bases[0] ?? '') }}" placeholder="https://api.saltmarsh.example/v2" @error('base')
                aria-invalid="true" @enderror spellcheck="false"><datalist id="bases">@foreach ($described->bases as $base)<option
                value="{{ $base }}">@endforeach</datalist>@error('base')<p class="fault">{{ $message }}</p>@enderror</div>
        @endunless
        @include('imports.access')
        @if ($described->secrets !== [] && ! $page->keepsAccess())<p class="mb-1">{{ \App\View\Show::count(count($described->secrets),
            'secret') }} stood in it and {{ count($described->secrets) === 1 ? 'goes' : 'go' }} to the secrets: {{ implode(', ',
            array_keys($described->secrets)) }}.</p>@endif
        @foreach ($described->otherServers() as $origin => $figures)
            @php($shown = \DeepSpring\Access\Origin::shown($origin))
            <div class="note my-2"><strong>{{ \App\View\Show::count($figures['endpoints'], 'operation') }} {{ $figures['endpoints'] === 1 ? 'goes' :
                'go' }} to another server, {{ $shown }}.</strong>
                @if ($figures['secured'] > 0 && $described->access !== [])
                <label class="mt-1 flex items-start gap-2"><input type="checkbox" name="agreed[]" value="{{ $origin }}"> <span>Send the
                    authentication of this source there as well. The file says that {{ $figures['secured'] === 1 ? 'one of them needs' :
                    $figures['secured'].' of them need' }} it; without this it stays with the source's own server.</span></label>
                @else No authentication is sent there.@endif</div>
        @endforeach
        <p class="my-3"><button class="btn go" data-go>{{ $source ? 'Add what is chosen' : 'Make the source' }} <span
            class="font-normal opacity-80">Ctrl ↵</span></button></p>
        <p class="s mb-4">{{ $source ? 'Nothing is published; it is kept as the draft.' :
            'It is tested at once. Nothing is published until you say so.' }} Those that you leave out can be added later from the same file.</p>
        @php($notices = $page->notices())
        @if ($notices !== [])
            <h2 class="mb-1">Corrected while reading</h2>
            @foreach (['left-out' => 'Left out', 'mended' => 'Corrected', 'note' => 'Worth knowing'] as $kind => $label)
                @php($these = array_filter($notices, fn ($one) => $one->kind === $kind))
                @if ($these !== [])
                <details class="mb-1" @if (count($these) <= 12) open @endif><summary>{{ $label }} <small>{{ array_sum(array_map(fn ($one) =>
                    count($one->notices), $these)) }}</small></summary>
                @foreach ($these as $number => $group)
                    @if (count($group->notices) === 1)<p class="mend"><code>{{ mb_strimwidth($group->notices[0]->place, 0, 90, '…') }}</code>
                        {{ $group->title }}</p>
                    @else<details class="mend"><summary>{{ $group->title }} <small>{{ \App\View\Show::count(count($group->notices),
                        'time') }}</small></summary>
                        @foreach (array_slice($group->notices, 0, \App\Http\Sources\ImportPage::NOTICES) as $one)<p><code>{{
                            mb_strimwidth($one->place, 0, 90, '…') }}</code> {{ $one->what === $group->title ? '' : $one->what }}</p>@endforeach
                        @if (count($group->notices) > \App\Http\Sources\ImportPage::NOTICES)<p><a
                            href="{{ route('imports.notices', [$page->import, $number]) }}">All
                            {{ \App\View\Show::number(count($group->notices)) }} places</a></p>@endif</details>
                    @endif
                @endforeach</details>
                @endif
            @endforeach
        @elseif ($refused === 0)
            <p class="s">Nothing had to be corrected or left out.</p>
        @endif
    </div>
</form>
@endsection
