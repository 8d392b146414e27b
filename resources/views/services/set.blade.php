@use('App\View\Show')
@extends('layouts.app')
@section('title', $set->name)
@section('content')
<div class="head">
    <div>
        <nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a> › <a
            href="{{ route('sources.show', $source) }}">{{ $source->name }}</a> › <a href="{{ route('services.show', $source) }}">What it offers</a></nav>
        <h1>{{ $set->name }} @if ($set->label !== '' && $set->label !== $set->name)<span class="font-normal">{{ $set->label }}</span>@endif
            @if ($set->single)<span class="tag">single</span>@endif</h1>
        @php($about = $set->about !== '' ? $set->about : ($type->about ?? ''))
        @if ($about !== '')<small>{{ $about }}</small>@endif
    </div>
    @can('update', $source)
    <div class="acts" data-slow>
        <span class="s" data-waiting role="status"></span>
        @php($roles = array_filter(['get' => ['gets one', ! $set->single && ($type->key ?? []) !== []], 'create' => ['creates', ! $set->single &&
            $set->can('insert')], 'update' => ['changes', $set->can('update')], 'delete' => ['deletes', ! $set->single && $set->can('delete')]], fn
            ($one) => $one[1]))
        @if ($roles !== [])<span class="s">Add an endpoint that</span>@endif
        @foreach ($roles as $does => [$label])<form method="post" action="{{ route('services.take', $source) }}">@csrf<input type="hidden" name="set"
            value="{{ $set->name }}"><button class="btn" name="does" value="{{ $does }}"
            aria-label="Add an endpoint that {{ $label }}">{{ $label }}</button></form>@endforeach
        <form method="post" action="{{ route('services.take', $source) }}">@csrf<input type="hidden" name="set" value="{{ $set->name }}"><button
            class="btn go" data-go>Read it: choose columns and rows</button></form>
    </div>
    @endcan
</div>
<div class="body">
    @if (($taken[$set->name] ?? []) !== [])<p class="mb-2">Endpoints of this set: @foreach ($taken[$set->name] as $one)<a
        href="{{ route('endpoints.show', [$source, $one['slug']]) }}">{{ $one['name'] }}</a>{{ $loop->last ? '' : ', ' }}@endforeach</p>@endif
    <div class="set-parts">
        <section aria-label="Columns">
            <h2>Columns <small class="font-normal">{{ $set->shortType() }}, of {{ $set->namespace() }}{{ $type?->open ?
                ' · open: records may hold more' : '' }}</small></h2>
            @if ($type === null)<p class="note">The metadata does not say what {{ $set->type }} is.</p>@else
            <div class="scroll" tabindex="0" role="region" aria-label="Columns of {{ $set->name }}"><table class="rows">
                <thead><tr><th>Name</th><th>Type</th><th>What it is</th><th>Restrictions</th></tr></thead><tbody>
                @foreach ($type->properties as $property)
                    @php($key = collect($type->key)->contains(fn ($part) => explode('/', $part->path)[0] === $property->name))
                    <tr><td @class(['m', 'font-bold' => $key])>{{ $property->name }}@if ($key) <span class="tag">key</span>@endif</td>
                        <td class="m">{{ $property->typed() }}{{ $property->nullable ? '' : ', never empty' }}</td>
                        <td class="wrap">{{ implode(': ', array_filter([$property->label, $property->about])) }}{{ $property->unit !== '' ?
                        " ($property->unit)" : '' }}@if ($members = $model->members($property->type))<small
                        class="block">{{ implode(' · ', array_map(strval(...), array_keys($members))) }}</small>@endif</td>
                        <td class="s">{{ implode(', ', array_filter([$property->filterable && ! in_array($property->name, $set->not('filter'), true) ?
                            '' : 'no filter', $property->sortable && ! in_array($property->name, $set->not('sort'), true) ? '' : 'no sorting',
                            $property->computed ? 'filled by the service' : '', in_array($property->name, $set->requiredInFilter(), true) ||
                            $property->needsFilter ? 'needed in filters' : ''])) }}</td></tr>
                @endforeach
                </tbody></table></div>
            @endif
        </section>
        <section aria-label="Related sets">
            <h2>Related sets</h2>
            @if ($diagram === null || $diagram->ways === [])<p class="s">Nothing is related to it.</p>@else
            <svg class="ways" viewBox="0 0 {{ $diagram::WIDTH }} {{ $diagram->height }}" width="{{ $diagram::WIDTH }}" height="{{ $diagram->height }}"
                role="group" aria-label="{{ $set->name }} leads to {{ collect($diagram->ways)->map(fn ($way) => "$way[name]".($way['there'] === '*' ?
                ', several' : ''))->join('; ') }}">
                @foreach ($diagram->ways as $way)
                    <path class="way" d="{{ $diagram->curve($way['y']) }}"/>
                    @if ($way['here'] !== '')<text class="many" x="158" y="{{ $diagram->middle() + ($loop->first ? -8 : ($loop->last ? 16 :
                        -8)) }}">{{ $loop->first || $loop->last ? $way['here'] : '' }}</text>@endif
                    <text class="many" x="277" y="{{ $way['y'] - 5 }}" text-anchor="end">{{ $way['there'] }}</text>
                    @if ($way['target'])<a href="{{ route('services.set', [$source, $way['target']]) }}">@endif
                    <rect class="there" x="286" y="{{ $way['y'] - 13 }}" width="268" height="26" rx="5"/>
                    <text x="296" y="{{ $way['y'] + 4 }}">{{ $way['name'] }}<tspan class="what" dx="8">{{ $way['target'] !== null && $way['target']
                        !== $way['name'] ? "in {$way['target']}" : '' }}{{ $way['keys'] !== '' ? ($way['target'] !== null && $way['target'] !==
                        $way['name'] ? ', ' : '').$way['keys'] : '' }}</tspan></text>
                    @if ($way['target'])</a>@endif
                @endforeach
                <rect class="here" x="2" y="{{ $diagram->middle() - 16 }}" width="148" height="32" rx="6"/><text class="own" x="76"
                    y="{{ $diagram->middle() + 5 }}" text-anchor="middle">{{ mb_strimwidth($set->name, 0, 18, '…') }}</text>
            </svg>
            @endif
            <h2 class="mt-4">Rows</h2>
            @can('update', $source)
            <p class="text-sm" data-slow>@if (! $set->single)@if ($set->can('count'))<span>It holds <button type="button" class="link"
                hx-post="{{ route('services.count', [$source, $set->name]) }}" hx-swap="outerHTML">count them</button></span> · @else<span
                class="dim">The service says that it cannot be counted.</span> @endif @endif
            <button type="button" class="btn small" hx-post="{{ route('services.preview', [$source, $set->name]) }}" hx-target="#rows"
                hx-disabled-elt="this">Look at 20 rows</button></p>
            @endcan
        </section>
    </div>
    <div id="rows" class="mt-3" role="status"></div>
    @if ($operations !== [])
        <h2 class="mt-5 mb-1">What can be done with it</h2>
        <table class="rows"><thead><tr><th>Name</th><th>Inputs</th><th>Gives</th><th></th></tr></thead>
            <tbody>@foreach ($operations as $one)@include('services.operation', ['operation' => $one])@endforeach</tbody></table>
    @endif
</div>
@endsection
