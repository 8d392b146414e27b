@extends('layouts.app')
@section('title', 'Watershed')
@php($colour = ['fresh' => '#2b7a4b', 'ochre' => '#a96d08', 'iron' => '#a33b2a', 'none' => '#6d736c'])
@section('content')
<div class="head">
    <div>
        <h1>Watershed: where your data comes from, and where it goes</h1>
        <small>{{ \App\View\Show::count($map->sources, 'source') }} {{ $map->sources === 1 ? 'feeds' :
            'feed' }} {{ \App\View\Show::count($map->tables, 'table') }} in {{ $environment->name }}; {{ \App\View\Show::count($map->queries, 'query',
            'queries') }} {{ $map->queries === 1 ? 'reads' : 'read' }} from them · band width is rows, colour is freshness</small>
    </div>
    <div class="acts">
        <form method="get"><label class="visually-hidden" for="q">Find on the map</label><input class="f" id="q" name="q" value="{{ $search }}"
            placeholder="find on the map"></form>
        @can('create', \App\Models\Source::class)<a class="btn go" href="{{ route('sources.create') }}">Add a source</a>@endcan
    </div>
</div>
@if ($map->drawing->boxes === [] && $map->idle === [])
    <div class="empty">
        @if ($search !== '')
            <h2>Nothing is named like “{{ $search }}”</h2>
            <p class="mt-2"><a href="{{ route('watershed') }}">Show everything</a></p>
        @elsecan('create', \App\Models\Source::class)
            <h2>Nothing flows yet</h2>
            <p class="mt-2 mb-3">Connect an API first: its address and its authentication. From its answers you
                make tables, and from tables everything else.</p>
            <a class="btn go" href="{{ route('sources.create') }}">Add a source</a>
        @else
            <h2>Nothing flows yet</h2>
            <p class="mt-2">Once a builder keeps a table, it appears here, and you can query it.</p>
        @endif
    </div>
@else
<div class="map-page">
    <div class="map">
    <svg class="watershed" width="900" height="{{ $map->drawing->height + 24 }}" role="group" aria-label="Map from sources to tables to queries and feeds">
        <g font-size="12" fill="#626860"><text x="0" y="12">Sources</text><text x="360" y="12">Tables</text><text x="700" y="12">Queries and feeds</text></g>
        <g transform="translate(0 22)">
            @foreach ($map->drawing->bands as $band)
                <path class="band-line" data-from="{{ $band['from'] }}" data-to="{{ $band['to'] }}" d="{{ $band['d'] }}"
                    stroke="{{ $colour[$band['state']] }}" stroke-width="{{ $band['width'] }}" @if ($band['state'] === 'iron') stroke-dasharray="9 5" @endif />
            @endforeach
            @foreach ($map->drawing->boxes as $box)
                <a @if ($box['url']) href="{{ $box['url'] }}" @else tabindex="0" role="img" @endif @if ($box['title'] !== $box['full'] || ! $box['url'])
                    aria-label="{{ $box['title'] }} {{ $box['sub'] }}{{ $box['title'] === $box['full'] ? '' : ': '.$box['full'] }}"
                    @endif data-box="{{ $box['id'] }}">
                    @if ($box['title'] !== $box['full'])<title>{{ $box['full'] }}</title>@endif
                    @if ($box['isBundle'])<rect x="{{ $box['x'] + 5 }}" y="{{ $box['y'] + 4 }}" width="{{ $box['w'] - 2 }}" height="{{ $box['h'] }}"
                        rx="6" fill="#f6f3ea" stroke="#cfc8b6" />@endif
                    <rect x="{{ $box['x'] + 1 }}" y="{{ $box['y'] }}" width="{{ $box['w'] - 2 }}" height="{{ $box['h'] }}" rx="6" fill="#fffdf8"
                        stroke="{{ $box['state'] === 'iron' ? '#a33b2a' : '#cfc8b6' }}" @if ($box['state'] === 'iron') stroke-dasharray="5 3" @endif />
                    <text x="{{ $box['x'] + 12 }}" y="{{ $box['y'] + intdiv($box['h'], 2) - 4 }}" font-size="13" @if ($box['mono']) class="m" @else
                        font-weight="600" @endif fill="#12282b">{{ $box['title'] }}</text>
                    <text x="{{ $box['x'] + 12 }}" y="{{ $box['y'] + intdiv($box['h'], 2) + 13 }}" font-size="12"
                        fill="{{ $box['state'] === 'iron' ? '#8a2b1b' : '#626860' }}">{{ $box['sub'] }}</text>
                </a>
            @endforeach
        </g>
    </svg>
    @if ($open !== '' && $map->drawing->boxes !== [])<p class="s"><a href="{{ $map->url(['open' => null]) }}">Collapse the tables</a></p>@endif
    @if ($map->pages > 1)
        <p class="s" role="navigation" aria-label="Pages of the map">Page {{ $map->page }} of {{ $map->pages }}, what needs a look first
            @if ($map->page > 1) · <a rel="prev" href="{{ $map->url(['page' => $map->page - 1]) }}">previous</a>@endif
            @if ($map->page < $map->pages) · <a rel="next" href="{{ $map->url(['page' => $map->page + 1]) }}">next</a>@endif</p>
    @endif
    @if ($map->idle !== [])
        <details class="s" id="idle" @if ($search !== '' || $map->drawing->boxes === []) open @endif>
            <summary>{{ \App\View\Show::count(count($map->idle), 'source') }} {{ count($map->idle) === 1 ? 'feeds' : 'feed' }} nothing yet</summary>
            <ul class="idle">
                @foreach ($map->idle as $one)
                    <li>@if ($one['url'])<a href="{{ $one['url'] }}">{{ $one['name'] }}</a>@else{{ $one['name'] }}@endif</li>
                @endforeach
            </ul>
        </details>
    @endif
    @if ($map->tables > 0 && $map->queries === 0)<p class="s mt-4">No query reads these tables yet. <a
        href="{{ route('queries.create') }}">Write one</a></p>@endif
    </div>
    <aside>
        <h2 class="mb-2">Needs a look <a class="text-sm font-normal" href="{{ route('notes.index') }}">all notes</a></h2>
        @forelse (array_slice($map->needs->all, 0, 12) as $need)
            @include('watershed.need')
        @empty
            <p class="s">Nothing now.</p>
        @endforelse
        @if (count($map->needs->all) > 12)
            <details><summary class="s">{{ count($map->needs->all) - 12 }} more</summary>
                @foreach (array_slice($map->needs->all, 12) as $need)
                    @include('watershed.need')
                @endforeach
            </details>
        @endif
    </aside>
</div>
@endif
@endsection
