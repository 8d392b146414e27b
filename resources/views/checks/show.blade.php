@extends('layouts.app')
@section('title', 'Checks of '.$name)
@section('content')
<div class="head">
    <div>
        <nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a> › <a href="{{ route('sources.show', $source) }}">{{ $source->name }}</a> › <a
            href="{{ route('endpoints.show', [$source, $endpoint]) }}">{{ $name }}</a></nav>
        <h1>Checks <span class="tag">{{ $environment->name }}</span></h1>
        <small>Rules that rows keep, looked at before new ones are put in place.
            @if ($kept) Tried here on the {{ \App\View\Show::count($kept->rows, 'row') }} of <a class="m"
                href="{{ route('tables.show', $kept->name) }}">{{ $kept->name }}</a>, kept {{ \App\View\Show::ago($kept->refreshed_at) }}.@endif</small>
    </div>
    <div class="acts">
        @can('update', $source)@if ($isDraft)<form method="post" action="{{ route('sources.publish', $source) }}">@csrf<button
            class="btn">Publish</button></form>@endif
        @if ($page->rows !== [])<button class="btn go" form="check-form" name="do" value="save">Keep in the draft</button>@endif @endcan
    </div>
</div>
@if ($plan === null)
    <div class="empty"><h2>There are no columns to check yet</h2>
        <p class="mt-2">Choose them under <em>Flatten</em> on the <a
            href="{{ route('endpoints.show', [$source, $endpoint]) }}">sheet of the endpoint</a>.</p></div>
@else
<form class="body" id="check-form" method="post" action="{{ route('endpoints.checks.update', [$source, $endpoint]) }}">
    @csrf
    <input type="hidden" name="seen" value="{{ $page->seen }}">
    <button class="visually-hidden" name="do" value="save" tabindex="-1" aria-hidden="true">Keep in the draft</button>
    @error('checks')<div class="notice mb-3" role="alert"><p>{{ $message }}</p><label class="text-sm"><input type="checkbox" name="insist" value="1">
        Keep mine</label> · <a href="{{ route('endpoints.checks', [$source, $endpoint]) }}">Open it anew</a></div>@enderror
    @foreach ($page->tables as $table => $columns)<datalist id="columns-{{ $loop->index }}">@foreach ($columns as $column)<option
        value="{{ $column }}">@endforeach</datalist>@endforeach
    <div class="rules">
        @forelse ($page->rows as $row)
            @include('checks.rule')
        @empty
            <p class="py-3">No rule yet. One holds without being written: a table that would lose half of its rows is not replaced.
                Add a rule below, or take one that is proposed from the rows that are there.</p>
        @endforelse
    </div>
    @can('update', $source)
    <p class="mt-3 flex flex-wrap items-center gap-2 text-sm">
        <label>Add a rule: <x-pick id="add-kind" name="kind" :options="$kinds" value="" /></label>
        @if (count($page->tables) > 1)<label>of <x-pick id="add-table" name="table" :options="array_combine(array_keys($page->tables),
            array_keys($page->tables))" value="" /></label>@else<input type="hidden" name="table" value="{{ array_key_first($page->tables) }}">@endif
        <button class="btn small" name="do" value="add" id="add-check">Add</button>
    </p>
    @endcan
    <section class="mt-5" id="tried" aria-label="Proposed" data-quiet @unless ($isTyped) hx-get="{{ route('endpoints.checks.tried', [$source, $endpoint]) }}"
        hx-trigger="load" @endunless aria-live="polite"><p class="s">{{ $isTyped ? 'Keep it in the draft, and it is tried on the rows that are there.' :
        'Looking at the rows that are there …' }}</p></section>
</form>
@endif
@endsection
