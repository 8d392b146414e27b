@extends('layouts.app')
@section('title', $consumer->name)
@section('content')
@php($mayChange = auth()->user()->can('update', $consumer))
<div class="head">
    <div><nav class="crumbs"><a href="{{ route('outlets.index') }}#readers">Outlets</a></nav>
        <h1>{{ $consumer->name }} @if ($consumer->off_at !== null)<span class="tag i">off</span>@endif</h1>
        <small>{{ $consumer->user->name }} answers for it</small></div>
    @if ($mayChange)<div class="acts"><form method="post" action="{{ route('outlets.readers.destroy', $consumer) }}">@csrf @method('delete')<button
        class="btn bad">Delete it, with its keys</button></form></div>@endif
</div>
<div class="body">
    @if ($key)<div class="note mb-4" role="status" id="key"><strong>The key. It is not shown again.</strong> <code class="break-all">{{ $key }}</code> <button
        type="button" class="btn small" data-copy="{{ $key }}">Copy it</button>
        <p class="s mt-1">Send it as <code>Authorization: Bearer</code>, as <code>X-Api-Key</code>, or, from a spreadsheet, as the password of basic
            authentication with any user name.</p></div>@endif
    <h2 class="mb-1">Keys</h2>
    @if ($consumer->keys->isNotEmpty())<table class="rows max-w-[760px]"><thead><tr><th>Begins with</th><th>Given</th><th>Ends</th><th>Last used</th><th></th></tr></thead><tbody>
    @foreach ($consumer->keys as $one)<tr><td class="m">{{ $one->beginning }}…</td><td>{{ \App\View\Show::ago($one->created_at) }}</td>
        <td>@if ($one->isOver())<span class="tag i">ended</span>@elseif ($one->ends_at === null) never @else<x-moment :at="$one->ends_at" />@endif</td>
        <td>{{ $one->used_at === null ? 'never' : \App\View\Show::ago($one->used_at) }}</td>
        <td>@if ($mayChange)<x-act :to="route('outlets.readers.withdraw', [$consumer, $one])" method="delete"
            label="Withdraw" :of="'the key '.$one->beginning" />@endif</td></tr>@endforeach
    </tbody></table>@else<p class="s">It has no key yet, so it can read nothing.</p>@endif
    @if ($mayChange)<form class="mt-2 flex flex-wrap items-end gap-3" method="post" action="{{ route('outlets.readers.give', $consumer) }}">@csrf
        <div class="field !mb-0 max-w-full"><label for="ends_on">Until the end of</label> <input class="f !w-40" type="date" id="ends_on"
            name="ends_on" value="{{ old('ends_on') }}"> <small>no end where it is
            empty</small></div><button class="btn">Give a key</button></form>
    @error('ends_on')<p class="fault" role="alert">{{ $message }}</p>@enderror @error('key')<p class="fault" role="alert">{{ $message }}</p>@enderror @endif
    <h2 class="mt-5 mb-1">Reads</h2>
    <p>@forelse ($consumer->feeds as $feed)<a class="m"
        href="{{ route('outlets.feed', $feed) }}">{{ $feed->path() }}</a> <span class="s">in {{ $feed->environment->name }}{{ $feed->is_on ? '' :
        ', off' }}</span>{{ $loop->last ? '' : ' · ' }}@empty<span class="s">No feed. Choose it under <em>For whom</em> on the sheet of one.</span>@endforelse</p>
    @if ($mayChange)
    <h2 class="mt-5 mb-1">Settings</h2>
    <form class="max-w-[640px]" method="post" action="{{ route('outlets.readers.update', $consumer) }}" id="settings">@csrf
        @foreach ([['name', 'Name', $consumer->name, ''],
            ['purpose', 'What for', $consumer->purpose, ''], ['addresses', 'May come from', implode(', ', $consumer->addresses),
            'addresses and networks with commas, like 192.0.2.0/24; from anywhere where it is empty'], ['a_minute', 'Requests a minute', $consumer->a_minute, ''], ['a_day', 'Requests a day',
            $consumer->a_day, ''], ['rows_a_day', 'Rows a day', $consumer->rows_a_day, 'no limit where it is empty'], ['at_once', 'Requests at the same time', $consumer->at_once, 'the database holds it to that'],
            ['values', 'What feeds show it', \App\Outlets\ReaderValues::written($consumer->values),
            "what my('house') gives in the condition of a feed, like house = northmere"], ['refreshes', 'May have refreshed', implode(', ', $consumer->refreshes),
            'tables that it may refresh from outside, like trial/loans; none where it is empty']]
            as [$field, $label, $value, $help])
        <div class="field"><label for="set-{{ $field }}">{{ $label }}</label><input class="f" id="set-{{ $field }}" name="{{ $field }}"
            value="{{ old($field, $value) }}"
            @error($field) aria-invalid="true" aria-describedby="set-{{ $field }}-fault" @enderror>@if ($help !== '')<small>{{ $help }}</small>@endif
            @error($field)<p class="fault" id="set-{{ $field }}-fault" role="alert">{{ $message }}</p>@enderror</div>
        @endforeach
        <p class="mb-2"><label><input type="checkbox" name="off" value="1" @checked($consumer->off_at !== null)> it may read nothing for now</label></p>
        <button class="btn">Save</button>
    </form>@endif
    <h2 class="mt-5 mb-1">Last requests</h2>
    @if ($calls->isEmpty())<p class="s">It has asked for nothing yet.</p>@else @include('outlets.call-rows', ['showsFeed' => true])@endif
</div>
@endsection
