@use('App\View\Show')
@extends('layouts.app')
@section('title', $source->name.': what it offers')
@section('content')
<div class="head">
    <div>
        <nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a> › <a href="{{ route('sources.show', $source) }}">{{ $source->name }}</a></nav>
        <h1>What the service offers @if ($service)<span class="tag">OData {{ $service->version }}</span>@endif</h1>
        @if ($service)<small>{{ Show::count($service->sets, 'set') }}, {{ Show::count($service->types,
            'type') }} · metadata of {{ Show::bytes($service->bytes) }}, read {{ Show::ago($service->read_at) }}@if ($service->environment_id !==
            $environment->id) in another environment @endif</small>@endif
    </div>
    <div class="acts" data-slow>
        <span class="s" data-waiting role="status"></span>
        @if ($service)<form method="get" role="search"><label class="visually-hidden" for="q">A part of a name, a label or a type</label><input
            class="f" id="q" name="q" value="{{ $search }}" placeholder="name, label or type">@if ($in !== '')<input type="hidden" name="in"
            value="{{ $in }}">@endif</form>@endif
        @can('update', $source)<form method="post" action="{{ route('services.read', $source) }}">@csrf<button
            class="btn {{ $service ? '' : 'go' }}">{{ $service ? 'Read the metadata again' : 'Read the metadata' }}</button></form>@endcan
    </div>
</div>
@include('endpoints.parts.said')
@if ($failed)<div class="mx-6 mt-2"><x-diagnosis :of="$failed" /><p class="s">What was sent and what came back is shown with <a
    href="{{ route('sources.show', $source) }}">the source</a>, where its address and authentication are set.</p></div>@endif
@if ($service === null)
    <div class="empty"><h2>Its metadata has not been read yet</h2><p
        class="mt-2">An OData service describes itself: sets, columns, keys and what leads where.
        Read its metadata, and choose from it. Nothing has to be described by hand.</p></div>
@else
<div class="body">
    @foreach ($service->left_out as $one)<p class="note">{{ $one }}</p>@endforeach
    @if (count($groups) > 1)
        <nav class="levels mb-2" aria-label="Containers and namespaces"><a href="{{ route('services.show', $source) }}" @if ($in === '')
            aria-current="true" @endif>All</a>@foreach ($groups as $group => $count)<a href="{{ route('services.show', [$source, 'in' => $group, 'q'
            => $search]) }}" @if ($in === $group) aria-current="true" @endif>{{ $group }} <small>{{ Show::number($count) }}</small></a>@endforeach</nav>
    @endif
    @if ($sets->isEmpty())
        <p>No set is like “{{ $search }}”. <a href="{{ route('services.show', $source) }}">Show all</a></p>
    @else
    @php($head = fn (string $key, string $label) => new \Illuminate\Support\HtmlString('<a href="?'.e(http_build_query(array_filter(['q' => $search,
        'in' => $in, 'sort' => $key]))).'">'.$label.($sort === $key ? ' ↓' : '').'</a>'))
    <table class="rows">
        <thead><tr><th>{{ $head('name', 'Set') }}</th><th>{{ $head('label', 'What it is') }}</th><th>Type</th><th>Key</th>
            <th class="n">{{ $head('columns', 'Columns') }}</th><th class="n">Leads to</th><th class="n">Rows</th><th>Endpoints here</th></tr></thead>
        <tbody>
        @foreach ($sets as $one)
            <tr><td class="m"><a href="{{ route('services.set', [$source, $one['name']]) }}">{{ $one['name'] }}</a></td>
                <td class="wrap">{{ implode(': ', array_filter([$one['label'], $one['about'] === $one['label'] ? '' : $one['about']])) ?: '—' }}</td>
                <td class="m">{{ $one['type'] }}@if ($one['single']) <span class="tag">single</span>@endif</td>
                <td class="m">{{ $one['key'] ?: '—' }}</td><td class="n">{{ $one['columns'] }}</td><td class="n">{{ $one['ways'] ?: '—' }}</td>
                <td class="n">@if ($one['single'])1 @elseif (! $one['count'])<span class="dim"
                    title="The service says that it cannot be counted">—</span>@else @can('update', $source)<button type="button" class="link"
                    id="count-{{ $one['name'] }}" data-count hx-post="{{ route('services.count', [$source, $one['name']]) }}" hx-swap="outerHTML"
                    aria-label="Count {{ $one['name'] }}">count</button>@else — @endcan @endif</td>
                <td>@can('update', $source)@if (! isset($taken[$one['name']]))<form method="post"
                    action="{{ route('services.take', $source) }}">@csrf<input type="hidden" name="set" value="{{ $one['name'] }}"><input
                    type="hidden" name="tried" value="1"><button class="link" id="take-{{ $one['name'] }}"
                    aria-label="use all of it: {{ $one['name'] }}">use all of it</button></form>@endif @endcan
                    @foreach ($taken[$one['name']] ?? [] as $endpoint)<a
                    href="{{ route('endpoints.show', [$source, $endpoint['slug']]) }}">{{ $endpoint['name'] }}</a>{{ $loop->last ? '' :
                    ', ' }}@endforeach</td></tr>
        @endforeach
        </tbody>
    </table>
    <div class="flex items-center gap-4"><x-pages :of="$sets" one="set" />
    @can('update', $source)@php($countable = collect($sets->items())->filter(fn ($one) => $one['count'])->pluck('name'))
    @if ($countable->count() > 1)<form class="mt-2 text-sm" hx-post="{{ route('services.counts', $source) }}" hx-target="#counted" hx-swap="innerHTML"
        data-slow>@foreach ($countable as $name)<input type="hidden" name="sets[]" value="{{ $name }}">@endforeach<button
        class="link">Count all of these, in one request</button> <span id="counted" role="status"></span></form>@endif @endcan</div>
    @endif
    @if ($operations !== [])
        <h2 class="mt-6 mb-1">Functions and actions</h2>
        <table class="rows"><thead><tr><th>Name</th><th>Inputs</th><th>Gives</th><th></th></tr></thead><tbody>
        @foreach ($operations as $one)
            @include('services.operation', ['operation' => $one, 'set' => null])
        @endforeach
        </tbody></table>
    @endif
</div>
@endif
@endsection
