@extends('layouts.app')
@section('title', 'Sources')
@section('content')
<div class="head">
    <div><h1>Sources</h1><small>the APIs that feed your tables</small></div>
    <div class="acts">
        <form method="get" role="search"><label class="visually-hidden" for="q">A part of a name</label><input class="f" id="q" name="q"
            value="{{ $search }}" placeholder="a part of a name"></form>
        <a class="btn go" href="{{ route('sources.create') }}">Add a source</a>
    </div>
</div>
@if ($sources->isEmpty())
    <div class="empty">
        @if ($search !== '')
            <h2>No source is named like “{{ $search }}”</h2><p class="mt-2"><a href="{{ route('sources.index') }}">Show all sources</a></p>
        @else
            <h2>No source yet</h2>
            <p class="mt-2 mb-3">A source is one API: its base URL, and how requests are authenticated.</p>
            <a class="btn go" href="{{ route('sources.create') }}">Add a source</a>
        @endif
    </div>
@else
<div class="body">
    @if (session('trouble'))<p class="diagnosis" role="alert">{{ session('trouble') }}</p>@endif
    <table class="rows">
        <thead><tr><th><a href="?{{ http_build_query(['q' => $search, 'sort' => 'name']) }}">Name @if ($sort === 'name')↓@endif</a></th>
            <th>Short name</th>@foreach ($environments as $one)<th
            @class(['font-bold' => $one->id === $environment->id])>{{ $one->name }}</th>@endforeach<th class="n">Endpoints</th><th>Published</th>
            <th>Owner</th><th><a href="?{{ http_build_query(['q' => $search, 'sort' => 'updated_at']) }}">Changed
            @if ($sort === 'updated_at')↓@endif</a></th></tr></thead>
        <tbody>
        @foreach ($sources as $source)
            
            <tr>
                <td><a href="{{ route('sources.show', $source) }}"><strong>{{ $source->name }}</strong></a></td>
                <td class="m">{{ $source->slug }}</td>
                @foreach ($environments as $one)
                    @php($state = $states[$source->id][$one->id] ?? null)
                    <td>@if (in_array("$source->id/$one->id", $leftAlone, true))<span class="tag i">paused</span> @endif
                        @if ($state === null)<span class="dim">not tested</span>@else<span class="tag {{ $state->failingSince === null ? 'g' :
                        ($state->words() === 'waits for consent' ? 'o' : 'i') }}"
                        title="{{ $state->last->diagnosis['what'] ?? '' }}">{{ $state->words() }}</span>@if ($state->failingSince !== null &&
                        $state->provenAt !== null)<br><small>last proven {{ \App\View\Show::ago($state->provenAt) }}</small>@endif @endif</td>
                @endforeach
                <td class="n">{{ $source->endpoints_count }}</td>
                <td>{{ $source->published_version === null ? 'not yet' : "version {$source->published_version}" }}</td>
                <td>{{ $source->owner?->name ?? '—' }}</td>
                <td>{{ \App\View\Show::ago($source->updated_at) }}</td>
            </tr>
        @endforeach
        </tbody>
    </table>
    <x-pages :of="$sources" one="source" />
</div>
@endif
@endsection
