@extends('layouts.app')
@section('title', 'Outlets')
@section('content')
<div class="head">
    <div><h1>Outlets</h1><small>what others read from here: rows under an address, for those who have a key</small></div>
    <div class="acts"><a class="btn" href="{{ route('outlets.file') }}">As a file</a><a
        class="btn" href="{{ route('outlets.values') }}">Shown to whom</a><a class="btn" href="{{ route('outlets.door') }}">A door for tools</a><form
        method="get" role="search"><label class="visually-hidden" for="q">A part of a name</label><input class="f" id="q" name="q"
        value="{{ $search }}" placeholder="name or table"></form></div>
</div>
<div class="body !pb-3" id="feeds">
    <h2 class="mb-1">Feeds in {{ $environment->name }}</h2>
    @if ($feeds->total() === 0)
        @if ($search !== '')<p class="s">No feed is like “{{ $search }}”. <a href="{{ route('outlets.index') }}">Show all</a></p>
        @else<p class="s max-w-[640px]">None yet. Open a table and press <strong>Hand it out</strong>: that makes a feed of it, which nobody can read until
            you publish it. A query is handed out once it is kept as a view or a table. <a href="{{ route('tables.index') }}">To the tables</a></p>@endif
    @else
    @php($head = fn (string $key, string $title) => new \Illuminate\Support\HtmlString('<a href="?'.e(http_build_query(array_filter(['q' => $search,
        'sort' => $key]))).'">'.$title.($sort === $key ? ' ↓' : '').'</a>'))
    <div class="scroll" tabindex="0" role="region" aria-label="Feeds"><table class="rows">
        <thead><tr><th>{{ $head('name', 'Feed') }}</th><th>{{ $head('reads', 'Of') }}</th><th>State</th><th class="n">Readers</th>
            <th class="n">Requests in 7 days</th><th class="n">Refused</th><th>Answers for it</th></tr></thead><tbody>
        @foreach ($feeds as $feed)
            <tr><td class="wrap"><a class="m"
                href="{{ route('outlets.feed', $feed) }}">{{ $feed->name }}</a> <span class="tag">version {{ $feed->version }}</span>
                @if ($feed->title !== '')<br><small>{{ $feed->title }}</small>@endif</td>
            <td class="m">{{ $feed->reads }}</td>
            <td>@if ($feed->fault !== null)<span class="tag i"
                title="{{ $feed->fault }}">has a fault</span>@elseif ($feed->is_on)<span class="tag g">on</span>@else<span
                class="tag">off</span>@endif</td>
            <td class="n">{{ $feed->consumers_count }}{{ $feed->for_people ? ' + people' : '' }}</td>
            <td class="n">{{ \App\View\Show::number($calls[$feed->id]['requests']) }}</td>
            <td class="n">{{ \App\View\Show::number($calls[$feed->id]['refused']) }}</td>
            <td>{{ $feed->user->name }}</td></tr>
        @endforeach
    </tbody></table></div>
    <x-pages :of="$feeds" one="feed" />
    @endif
</div>
<div class="body" id="readers">
    <h2 class="mb-1">Readers with a key</h2>
    @if ($consumers->total() > 0)
    <div class="scroll" tabindex="0" role="region" aria-label="Readers with a key"><table class="rows">
        <thead><tr><th>Reader</th><th>Keys</th><th class="n">Feeds</th><th>Last asked</th><th>Answers for it</th></tr></thead><tbody>
        @foreach ($consumers as $one)<tr><td class="wrap"><a href="{{ route('outlets.readers.show', $one) }}">{{ $one->name }}</a>@if ($one->off_at !== null) <span
            class="tag i">off</span>@endif @if ($one->purpose !== '')<br><small>{{ mb_strimwidth($one->purpose, 0, 100, '…') }}</small>@endif</td>
            <td>@forelse ($one->keys as $key)<span class="m">{{ $key->beginning }}…</span>@if ($key->isOver()) <span class="tag i">ended</span>@elseif ($key->ends_at !== null) <span
                @class(['tag', 'o' => $key->ends_at->diffInDays(now(), true) < 14])>until {{ $key->ends_at->format('Y-m-d') }}</span>@endif {{ $loop->last ? '' :
                '· ' }}@empty<span class="dim">none</span>@endforelse</td>
            <td class="n">{{ $one->feeds_count }}</td>
            <td>{{ $one->keys->max('used_at') === null ? '—' : \App\View\Show::ago($one->keys->max('used_at')) }}</td><td>{{ $one->user->name }}</td></tr>@endforeach
    </tbody></table></div>
    <x-pages :of="$consumers" one="reader" />
    @endif
    <form class="mt-4 flex flex-wrap items-end gap-3" method="post" action="{{ route('outlets.readers.store') }}">@csrf
        <div class="field !mb-0 max-w-full"><label for="name">Add a reader</label> <input class="f !w-56 max-w-full" id="name" name="name"
            value="{{ old('name') }}" placeholder="Courier planning" required
            @error('name') aria-invalid="true" aria-describedby="name-fault" @enderror></div>
        <div class="field !mb-0 max-w-full"><label for="purpose">What for</label> <input class="f !w-80 max-w-full" id="purpose" name="purpose"
            value="{{ old('purpose') }}"></div>
        <button class="btn">Add</button></form>
    @error('name')<p class="fault" id="name-fault" role="alert">{{ $message }}</p>@enderror
    <p class="s mt-2">A reader is another application, a spreadsheet or a script. Who is signed in here needs no key.</p>
</div>
@endsection
