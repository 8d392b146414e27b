@extends('layouts.app')
@section('title', $feed->name)
@section('content')
@php($mayChange = auth()->user()->can('update', $feed))
@php($value = fn (string $field) => old($field, is_array($feed->{$field}) ? implode(', ', $feed->{$field}) : $feed->{$field}))
<form id="feed-form" method="post" action="{{ route('outlets.feed.update', $feed) }}">@csrf</form>
<div class="head">
    <div>
        <nav class="crumbs"><a href="{{ route('outlets.index') }}">Outlets</a></nav>
        <h1>{{ $feed->title !== '' ? $feed->title : $feed->name }} @if ($feed->fault !== null)<span class="tag i">has a fault</span>@elseif ($feed->is_on)<span
            class="tag g">on</span>@else<span class="tag">not published</span>@endif <span class="tag">version {{ $feed->version }}</span></h1>
        <small>{{ $feed->user->name }} answers for it; readers get no more than {{ $feed->user->name }} may read</small>
        @if ($sheet->versions->isNotEmpty())<p class="s">Other versions: @foreach ($sheet->versions as $one)<a
            href="{{ route('outlets.feed', $one) }}">version {{ $one->version }}</a>{{ $one->is_on ? '' : ' (off)' }}{{ $loop->last ? '' : ', ' }}@endforeach</p>@endif
    </div>
    <div class="acts">
        <a class="btn" href="{{ route('outlets.feed.documentation', $feed) }}">Documentation</a>
        @if ($mayChange)
            @if ($feed->is_on)<form method="post" action="{{ route('outlets.feed.off', $feed) }}">@csrf<button class="btn">Turn off</button></form>
            <form method="post" action="{{ route('outlets.feed.next', $feed) }}">@csrf<button class="btn">New version</button></form>
            <button class="btn go" form="feed-form">Save</button>
            @else
            <form method="post" action="{{ route('outlets.feed.destroy', $feed) }}">@csrf @method('delete')<button class="btn bad">Delete</button></form>
            <button class="btn" form="feed-form">Save</button>
            <button class="btn go" form="feed-form" name="then" value="publish" data-go>Publish</button>@endif
        @endif
    </div>
</div>
<div class="cols"><div>What you set</div><div></div><div>What readers get{{ $sheet->figures->requests > 0 ?
    ' · '.\App\View\Show::count($sheet->figures->requests, 'request').' in 7 days, '.\App\View\Show::number($sheet->figures->refused).' refused, slowest 1 %'.($sheet->figures->requests > 10_000 ? ' of the last 10 000' : '').' from '.$sheet->figures->slowest.' ms on' :
    '' }}</div></div>
<div class="sheet" id="from">
    <div class="cell min-w-0">
        <h2 class="mb-1">From</h2>
        <p>@if ($sheet->table !== null)<a class="m" href="{{ \App\View\Show::rowsOf($sheet->table) }}">{{ $feed->reads }}</a>
            <span class="s">in {{ $feed->environment->name }}{{ $sheet->state?->since !== null ? ', rows of '.\App\View\Show::ago($sheet->state->since) : '' }}</span>
            @else<span class="m">{{ $feed->reads }}</span> <span class="tag i">is not there</span>@endif</p>
        @if ($feed->fault !== null)<p class="diagnosis" role="alert">{{ $feed->fault }}</p>@endif
        @foreach ([['name', 'Name in its address', '!w-56 m'], ['title', 'Title', ''], ['key', 'Key', '!w-72 m']] as [$field, $label, $class])
        <div class="field"><label for="{{ $field }}">{{ $label }}</label>
            <input class="f {{ $class }}" id="{{ $field }}" name="{{ $field }}" form="feed-form" value="{{ $value($field) }}"
                spellcheck="false" @disabled(! $mayChange)
                @readonly($field === 'name' && ($feed->is_on || $feed->version > 1)) @error($field) aria-invalid="true" aria-describedby="{{ $field }}-fault" @enderror>
            @if ($field === 'key')<small>columns that tell rows apart, with commas; empty where the table has no key</small>@endif
            @error($field)<p class="fault" id="{{ $field }}-fault" role="alert">{{ $message }}</p>@enderror</div>
        @endforeach
        <div class="field"><label for="user_id">Answers for it</label><select class="f !w-56 max-w-full" id="user_id" name="user_id"
            form="feed-form" @disabled(! $mayChange)>
            @foreach ($sheet->people as $id => $name)<option value="{{ $id }}" @selected((string) old('user_id', $feed->user_id) === (string) $id)>{{ $name }}</option>@endforeach</select>
            @error('user_id')<p class="fault" role="alert">{{ $message }}</p>@enderror</div>
        <div class="field"><label for="about">About it</label><textarea class="f" id="about" name="about" rows="2" form="feed-form"
            @disabled(! $mayChange)>{{ $value('about') }}</textarea></div>
    </div>
    <div class="spine"><span @class(['node', 'ok' => $feed->is_on && $feed->fault === null, 'bad' => $feed->fault !== null, 'no' => ! $feed->is_on])>1</span></div>
    <div class="cell min-w-0">
        @foreach ($sheet->addresses() as $what => $address)<p class="text-sm"><span class="s inline-block w-16">{{ $what }}</span> <span
            class="m break-all">{{ $address }}</span> <button type="button" class="link" data-copy="{{ $address }}"
            aria-label="Copy the address of {{ $what }}">copy</button></p>@endforeach
        @unless ($feed->is_on)<p class="s mt-2">These answer once it is published.</p>@endunless
    </div>
</div>
<div class="sheet" id="shows">
    <div class="cell min-w-0">
        <h2 class="mb-1">Shows <small>{{ count($feed->columns) }} of {{ \App\View\Show::count(count($sheet->columns), 'column') }}</small></h2>
        @error('columns')<p class="diagnosis" role="alert">{{ $message }} @if ($feed->is_on)<label class="block"><input type="checkbox" name="insist"
            value="1"
            form="feed-form"> change this version all the same</label>@endif</p>@enderror
        <div class="scroll max-h-[420px]" tabindex="0" role="region"
            aria-label="Columns"><table class="rows"><thead><tr><th>shown</th><th>column</th><th>called</th><th>type</th>
            <th>place</th></tr></thead><tbody>
        @foreach ($sheet->columns as $i => $row)
            @php($typed = old("columns.$i"))
            <tr><td><input type="hidden" name="columns[{{ $i }}][column]" value="{{ $row['column'] }}" form="feed-form"><input type="checkbox"
                name="columns[{{ $i }}][shown]" value="1" form="feed-form" @checked($typed === null ? $row['shown'] : isset($typed['shown'])) @disabled(! $mayChange)
                aria-label="Show {{ $row['column'] }}"></td><td class="m" title="{{ $row['about'] }}">{{ $row['column'] }}</td>
            <td><input class="f m !w-36" name="columns[{{ $i }}][name]" value="{{ $typed['name'] ?? $row['name'] }}" form="feed-form"
                aria-label="Name of {{ $row['column'] }} in the feed"
                spellcheck="false" @disabled(! $mayChange)></td><td>{{ $row['label'] }}</td>
            <td><input class="f !w-14" name="columns[{{ $i }}][place]" value="{{ $typed['place'] ?? $row['place'] }}" form="feed-form" inputmode="numeric"
                aria-label="Place of {{ $row['column'] }}" @disabled(! $mayChange)></td></tr>
        @endforeach
        </tbody></table></div>
        @foreach ([['condition', 'Rows for which', "status eq 'open' and due ge 2031-01-01", "all rows where it is empty; the names are those of the table; my('house') is what is set for whoever reads"],
            ['sort', 'Sorted by', 'due desc', 'the key where it is empty']] as [$field, $label, $example, $help])
        <div class="field"><label for="{{ $field }}">{{ $label }}</label>
            <input class="f m" id="{{ $field }}" name="{{ $field }}" form="feed-form" value="{{ $value($field) }}" placeholder="{{ $example }}"
                spellcheck="false"
                @disabled(! $mayChange) @error($field) aria-invalid="true" aria-describedby="{{ $field }}-fault" @enderror>
            <small>{{ $help }}</small>@error($field)<p class="fault" id="{{ $field }}-fault" role="alert">{{ $message }}</p>@enderror</div>
        @endforeach
    </div>
    <div class="spine"><span @class(['node', 'ok' => $sheet->sample !== null, 'bad' => $sheet->problem !== null && $feed->for_people, 'no' => $sheet->sample === null])>2</span></div>
    <div class="cell min-w-0">
        @if ($sheet->sample !== null)
            <p class="text-sm"><span class="m">GET /feeds/{{ $feed->path() }}?top=3</span> <span class="tag g">200</span> <span
                class="s">{{ $sheet->milliseconds }} ms, as you</span></p>
            <pre class="ev tall" tabindex="0" aria-label="The first rows">{{ $sheet->sample }}</pre>
        @elseif ($sheet->problem !== null)<p @class(['diagnosis' => $feed->for_people, 'note' => ! $feed->for_people])>{{ $sheet->problem }}</p>
        @endif
        @if ($sheet->ways !== [])<h3 class="mt-3">Leads to <small>for readers over OData</small></h3>
            <dl class="pairs text-sm">@foreach ($sheet->ways as $way => $words)<dt class="m">{{ $way }}</dt><dd>{{ $words }}</dd>@endforeach</dl>@endif
        @if ($sheet->sample === null && $sheet->problem === null)<p class="s">Nothing yet: it is not published. Publishing it makes a view of the database with these columns and rows, which is all that its
            readers' accounts may read.</p>@endif
    </div>
</div>
<div class="sheet" id="whom">
    <div class="cell last min-w-0">
        <h2 class="mb-1">For whom</h2>
        <p><input type="hidden" name="for_people" value="" form="feed-form"><label><input type="checkbox" name="for_people" value="1" form="feed-form"
            @checked(old('for_people', $feed->for_people ? '1' : '') === '1') @disabled(! $mayChange)> whoever is signed in here, without a key</label></p>
        @foreach ($sheet->consumers as $one)<p><label><input type="checkbox" name="readers[]" value="{{ $one->id }}" form="feed-form"
            @checked(in_array($one->id, $sheet->readers, true)) @disabled(! $mayChange)> {{ $one->name }}</label> <a class="s"
            href="{{ route('outlets.readers.show', $one) }}">{{ $one->keys->isEmpty() ? 'has no key yet' : $one->keys->pluck('beginning')->map(fn ($one) =>
            "{$one}…")->join(' · ') }}</a></p>@endforeach
        <p class="s"><a href="{{ route('outlets.index') }}#readers">{{ $sheet->consumers->isEmpty() ? 'Add a reader with a key' : 'Add another reader' }}</a></p>
        <h3 class="mt-3">Pages and age</h3>
        <div class="flex flex-wrap gap-x-5">
        @foreach ([['page', 'Rows of a page'], ['most', 'At most'], ['cache_seconds', 'Cached for, in s'], ['oldest_minutes', 'Refused when older than, in min']] as [$field, $label])
            <div class="field !mb-0 max-w-full"><label for="{{ $field }}">{{ $label }}</label> <input class="f !w-24" id="{{ $field }}"
                name="{{ $field }}" form="feed-form" inputmode="numeric"
                value="{{ $value($field) }}" @disabled(! $mayChange) @error($field) aria-invalid="true" aria-describedby="{{ $field }}-fault" @enderror>
                @error($field)<p class="fault" id="{{ $field }}-fault" role="alert">{{ $message }}</p>@enderror</div>
        @endforeach</div>
        <div class="field mt-2"><label for="origins">Web pages that may read it</label> <input class="f m" id="origins" name="origins" form="feed-form"
            value="{{ $value('origins') }}" placeholder="https://portal.saltmarsh.example" spellcheck="false" @disabled(! $mayChange)>
            <small>origins, with commas; none where it is empty</small>@error('origins')<p class="fault" role="alert">{{ $message }}</p>@enderror</div>
    </div>
    <div class="spine"><span @class(['node', 'ok' => $sheet->readers !== [] || $feed->for_people, 'no' => $sheet->readers === [] && ! $feed->for_people])>3</span></div>
    <div class="cell last min-w-0">
        @if ($sheet->stayed !== [])<div class="note mb-3"><strong>Still read, though there is a newer version</strong>
            <ul class="list-disc pl-5">@foreach ($sheet->stayed as $one)<li>{{ $one['name'] }}{{ $one['owner'] !== $one['name'] ? ", for which {$one['owner']} answers" : '' }}:
                {{ \App\View\Show::count($one['requests'], 'request') }}, the last {{ \App\View\Show::ago($one['last']) }}</li>@endforeach</ul></div>@endif
        @if ($sheet->calls->isEmpty())<p class="s">Nobody has asked for it yet.</p>@else
        @include('outlets.days', ['days' => $sheet->figures->days])
        @include('outlets.call-rows', ['calls' => $sheet->calls, 'showsFeed' => false])
        <p class="s mt-1"><a href="{{ route('outlets.feed.calls', $feed) }}">All requests</a></p>@endif
    </div>
</div>
@endsection
