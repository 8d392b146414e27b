@extends('layouts.app')
@section('title', 'Versions')
@section('content')
<div class="head"><div>
    <nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a> › <a href="{{ route('sources.show', $source) }}">{{ $source->name }}</a></nav>
    <h1>Versions</h1>
</div>
@if ($draft)<div class="acts"><a class="btn" href="{{ $source->published_version === null ? route('sources.file', $source) :
    route('sources.versions.compare', [$source, 'a' => $source->published_version, 'b' => 'draft']) }}">What the draft changes</a>
    <form method="post" action="{{ route('sources.publish', $source) }}">@csrf<button class="btn go">Publish the draft</button></form></div>@endif
</div>
<div class="body">
@if (session('said'))<p class="note good mb-3" role="status">{{ session('said') }}</p>@endif
@if ($draft && $source->published_version !== null)
    <form method="post" action="{{ route('sources.draft.discard', $source) }}"
        class="mb-3">@csrf @method('delete')<p>There are edits kept as a draft, {{ \App\View\Show::ago($draft->updated_at) }}.
        Nobody but builders sees them until they are published.
        <button class="link">Discard the draft</button></p></form>
@endif
@if ($versions->isEmpty())
    <div class="empty"><p>Nothing was published yet. What you type is kept as a draft;
        publishing makes it version 1, which is what queries and refreshes use.</p></div>
@else
    <form method="get" action="{{ route('sources.versions.compare', $source) }}" id="compare"></form>
    <table class="rows"><thead><tr><th>one</th><th>other</th><th class="n">Version</th><th>Published</th><th>By</th><th></th></tr></thead><tbody>
    @foreach ($versions as $number => $one)
        <tr><td><input type="radio" form="compare" name="a" value="{{ $one->version }}" aria-label="compare version {{ $one->version }}"
            @checked($number === min(1, $versions->count() - 1))></td>
            <td><input type="radio" form="compare" name="b" value="{{ $one->version }}" aria-label="with version {{ $one->version }}"
                @checked($number === 0)></td>
            <td class="n">{{ $one->version }}</td><td><x-moment :at="$one->updated_at" /></td><td>{{ $people[$one->author_id] ?? '—' }}</td>
            <td>@if ($one->version === $source->published_version)<span class="tag g">in use</span>@else<form method="post"
                action="{{ route('sources.versions.restore', [$source, $one->version]) }}">@csrf<button
                class="link">Restore it as the draft</button></form>@endif</td></tr>
    @endforeach
    </tbody></table>
    <p class="mt-3"><button class="btn" form="compare" @disabled($versions->count() < 2)>Compare the two</button></p>
    <x-pages :of="$versions" />
@endif
</div>
@endsection
