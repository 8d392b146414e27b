@extends('layouts.app')
@section('title', 'Choose endpoints')
@section('go', 'add what is chosen')
@section('content')
@php($count = count($described->endpoints))
@php($isNew = fn ($one) => ! isset($there[\App\Http\Controllers\ImportController::key($one->method(), $one->endpoint['ask']['path'])]))
@php($groups = collect($described->endpoints)->groupBy(fn ($one) => $one->group))
<div class="head"><div>
    <nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a>@if ($source) › <a
        href="{{ route('sources.show', $source) }}">{{ $source->name }}</a>@endif</nav>
    <h1>{{ $described->title !== '' ? $described->title : ['curl' => 'cURL commands', 'har' => 'A recording'][$described->kind] ?? 'A description' }}
        <span class="tag">{{ \App\View\Show::count($count, 'operation') }}</span></h1>
</div></div>
<form method="post" action="{{ route('imports.apply', $import) }}" data-collect="chosen" class="grid grid-cols-[minmax(0,1fr)_400px] gap-10 px-6 pb-10">
    @csrf
    <input type="hidden" id="chosen" name="chosen">
    <div>
        @error('chosen')<p class="fault mb-1" role="alert">{{ $message }}</p>@enderror
        @if ($count > 0)
        <div class="mb-2 flex items-center gap-3">
            <label class="visually-hidden" for="filter">Search operations</label>
            <input class="f !w-72" id="filter" type="search" placeholder="search by path, name or tag" data-filter="#operations [data-row]" data-find>
            <button type="button" class="link" data-check="all">Choose all that are shown</button>
            <button type="button" class="link" data-check="none">none</button>
            <span class="s ml-auto" data-chosen role="status"></span>
        </div>
        <div id="operations" class="choose" tabindex="0" role="region" aria-label="Operations">
            @foreach ($groups as $group => $all)
            <details @if ($count <= 60 || $loop->first) open @endif data-group><summary><h2
                class="inline">{{ $group === '' ? 'Others' : $group }}</h2> <small>{{ count($all) }}</small></summary>
            <table class="rows"><tbody>
            @foreach ($all as $one)
                @php($e = $one->endpoint)
                @php($merged = $merge?->changes[$there[\App\Http\Controllers\ImportController::key($one->method(), $e['ask']['path'])] ?? ''] ?? [])
                <tr data-row data-text="{{ mb_strtolower($group.' '.$one->id.' '.$e['name'].' '.$one->slug()) }}">
                    <td class="w-6">@if ($isNew($one))<input type="checkbox" value="{{ $one->slug() }}" data-choice aria-label="{{ $e['name'] }}"
                        @checked($count <= 30 && ! $one->isDeprecated)>@endif</td>
                    <td class="m">{{ $one->method() }} {{ mb_strimwidth($e['ask']['path'], 0, 60, '…') }}</td>
                    <td class="wrap">{{ $e['name'] }} @if ($one->isDeprecated)<span class="tag o">deprecated</span>@endif
                        @if ($one->missing !== [])<span class="tag o">needs {{ implode(', ', $one->missing) }}</span>@endif</td>
                    <td><span class="tag">{{ \App\View\Show::ROLES[$e['does'] ?? 'list'] }}</span></td>
                    <td class="s">{{ collect([count($e['ask']['inputs'] ?? []) === 0 ? null : \App\View\Show::count(count($e['ask']['inputs']),
                        'input'), isset($e['flatten']) ? \App\View\Show::count(count($e['flatten']['columns']), 'column') : null, ['page' =>
                        'page by page', 'cursor' => 'by cursor', 'next-link' => 'by link'][$e['onward']['style'] ?? 'none'] ??
                        null])->filter()->join(', ') }}</td>
                    <td>@unless ($isNew($one))<span class="tag {{ $merged === [] ? 'g' : 'o' }}">{{ $merged === [] ? 'there' :
                        \App\View\Show::count(count($merged), 'change') }}</span>@endunless</td>
                </tr>
            @endforeach
            </tbody></table></details>
            @endforeach
        </div>
        @endif
        @if ($merge && ($merge->changes !== [] || $merge->kept !== [] || $merge->gone !== []))
            <h2 class="mb-1 mt-6">What changes in endpoints that are there</h2>
            <table class="rows"><thead><tr><th>Endpoint</th><th>Where</th><th>is</th><th>becomes</th></tr></thead><tbody>
            @foreach (array_slice($merge->changes, 0, 40, true) as $slug => $changes)@foreach (array_slice($changes, 0, 12) as $change)
                <tr><td>{{ $slug }}</td><td class="wrap">{{ implode(' › ', $change->place()) }}</td>
                    <td class="m wrap">{{ mb_strimwidth(\DeepSpring\SourceFile\DocumentChange::shown($change->was), 0, 80, '…') }}</td>
                    <td class="m wrap">{{ mb_strimwidth(\DeepSpring\SourceFile\DocumentChange::shown($change->now), 0, 80, '…') }}</td></tr>
            @endforeach @endforeach
            @foreach (array_slice($merge->kept, 0, 40) as $one)
                <tr><td>{{ $one['slug'] }}</td><td class="wrap">{{ $one['place'] }} <span class="tag o">yours stays</span></td>
                    <td class="m wrap">{{ mb_strimwidth(\DeepSpring\SourceFile\DocumentChange::shown($one['kept']), 0, 80, '…') }}</td>
                    <td class="m wrap dim">not {{ mb_strimwidth(\DeepSpring\SourceFile\DocumentChange::shown($one['offered']), 0, 80, '…') }}</td></tr>
            @endforeach
            @foreach ($merge->gone as $slug)<tr><td>{{ $slug }}</td><td colspan="3">is no longer in the description; it stays until you delete it</td>
                </tr>@endforeach
            </tbody></table>
        @endif
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
        <p class="mb-1">Authentication: @forelse ($described->access as $one)<span class="tag">{{ \App\Http\Sheets\SchemeFields::title($one['scheme']) }}{{
            isset($one['in'], $one['name']) ? " in {$one['in']} {$one['name']}" : '' }}</span> @empty none @endforelse
            @if ($keepsAccess)<small>that of the source stays as it is</small>@endif</p>
        @if ($described->secrets !== [])<p class="mb-1">{{ \App\View\Show::count(count($described->secrets),
            'secret') }} stood in it and {{ count($described->secrets) === 1 ? 'goes' : 'go' }} to the secrets: {{ implode(', ',
            array_keys($described->secrets)) }}.</p>@endif
        <p class="my-3"><button class="btn go" data-go>{{ $source ? 'Add what is chosen' : 'Make the source' }} <span
            class="font-normal opacity-80">Ctrl ↵</span></button></p>
        <p class="s mb-4">{{ $source ? 'Nothing is published; it is kept as the draft.' :
            'It is tested at once. Nothing is published until you say so.' }} Those that you leave out can be added later from the same file.</p>
        @if ($described->mends !== [])
            <h2 class="mb-1">Corrected while reading</h2>
            @foreach (['left-out' => 'Left out', 'mended' => 'Corrected', 'note' => 'Worth knowing'] as $kind => $label)
                @php($these = array_values(array_filter($described->mends, fn ($one) => $one->kind === $kind)))
                @if ($these !== [])
                <details class="mb-1" @if (count($these) <= 12) open @endif><summary>{{ $label }} <small>{{ count($these) }}</small></summary>
                @foreach (array_slice($these, 0, 100) as $one)<p class="mend"><code>{{ mb_strimwidth($one->place, 0, 90, '…') }}</code>
                    {{ $one->what }}</p>@endforeach</details>
                @endif
            @endforeach
        @else
            <p class="s">Nothing had to be corrected or left out.</p>
        @endif
    </div>
</form>
@endsection
