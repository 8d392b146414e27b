@extends('layouts.app')
@section('title', "Change $kept->name in bulk")
@section('content')
@php($show = \App\View\Show::class)
@php($isUnderWay = $set->state->isUnderWay())
@php($left = ($counts['pending'] ?? 0) - $unfit + ($counts['unknown'] ?? 0))
<div class="head">
    <div><nav class="crumbs"><a href="{{ route('tables.index') }}">Tables</a> › <a class="m"
        href="{{ route('tables.show', $kept->name) }}">{{ $kept->name }}</a> › <a
        href="{{ route('changes.bulk', $kept->name) }}">In bulk</a></nav>
        <h1>{{ mb_strimwidth($set->about, 0, 80, '…') }} <span class="tag">{{ $environment->name }}</span> <span
            class="tag o">{{ $set->state->words() }}</span></h1></div>
    <div class="acts">
        @if (($counts['refused'] ?? 0) + ($counts['conflict'] ?? 0) + ($counts['unknown'] ?? 0) + $unfit > 0)<a class="btn"
            href="{{ route('changes.bulk.refusals', ['name' => $kept->name,
            'changes' => $set->id]) }}">What was refused, as CSV</a>@endif
        <form class="flex flex-wrap items-center gap-2" method="post"
            action="{{ route('changes.bulk.update', ['name' => $kept->name, 'changes' => $set->id]) }}">@csrf
        @if ($isUnderWay)<button class="btn" name="do" value="stop">Stop</button>
        @elseif ($set->state === \App\Models\ChangeSetState::Waiting)<span class="s">a second person approves</span>
        @elseif ($left > 0)
            @if ($environment->slug === 'production')<label><input type="checkbox" name="sure" value="1" required> This changes Production</label>@endif
            @if (($counts['done'] ?? 0) === 0 && $left > 3)<button class="btn go" name="do" value="three">Send three for real</button><button
                class="btn" name="do" value="all">Send all</button>
            @else<button class="btn go" name="do" value="all">{{ ($counts['done'] ?? 0) === 0 ? 'Send all'
                : 'Send the other '.$show::number($left) }}</button>@endif
            <button class="btn" name="do" value="drop" formnovalidate>Take back what is not sent</button>
        @endif</form>
    </div>
</div>
@error('bulk')<div class="diagnosis mx-6" role="alert">{{ $message }}</div>@enderror
<div class="px-6" id="bulk-progress" @if ($isUnderWay) hx-get="{{ request()->fullUrl() }}" hx-select="#bulk-progress" hx-trigger="every 1s"
    hx-swap="outerHTML" data-quiet @endif>
    @php($all = max(1, array_sum($counts)))
    @php($x = 0)
    <svg class="w-full" height="18" role="img" aria-label="{{ $show::number($counts['done'] ?? 0) }} of {{ $show::number($all) }} done" viewBox="0 0 1000 18" preserveAspectRatio="none">
        @foreach (['done' => 'var(--color-fresh)', 'refused' => 'var(--color-iron)', 'conflict' => 'var(--color-ochre)', 'unknown' => 'var(--color-ochre)', 'sending' => 'var(--color-water)', 'pending' => 'var(--color-seam)'] as $kind => $colour)
            @php($width = 1000 * ($counts[$kind] ?? 0) / $all)<rect x="{{ round($x, 1) }}" y="2" width="{{ round($width, 1) }}" height="14"
                fill="{{ $colour }}"></rect>@php($x += $width)@endforeach
    </svg>
    {{-- What may be looked up is marked some changes ahead of its turn. --}}
    @php($words = ['done' => 'done', 'refused' => 'refused', 'conflict' => 'changed meanwhile', 'unknown' => 'unknown', 'sending' => 'on their way or next',
        'pending' => 'not sent'.($unfit > 0 ? ", of which $unfit do not fit" : '')])
    <p class="mt-1">{{ $isUnderWay ? ucfirst($set->state->words()).':' : '' }}
        @foreach (array_keys(array_filter(array_intersect_key(array_replace(array_fill_keys(array_keys($words), 0), $counts), $words))) as $kind){{ $loop->first ? '' : ' · ' }}<strong>{{ $show::number($counts[$kind]) }}</strong>
        {{ $words[$kind] }}@endforeach
        @php($seconds = $set->started_at === null ? 0 : max(1, (int) $set->started_at->diffInSeconds(now(), true)))
        @php($over = array_sum($counts) - ($counts['pending'] ?? 0) - ($counts['sending'] ?? 0))
        @if ($isUnderWay && $over > 5) · {{ $show::number((int) round($over / $seconds)) }} a second,
        {{ $show::duration(1000 * $left * $seconds / $over) }} left @endif</p>
</div>
<div class="mt-4" hx-get="{{ route('changes.look', ['name' => $kept->name, 'set' => $set->id, 'look' => request('look')]) }}"
    hx-trigger="load" data-quiet><div id="look"><p
    class="s px-6">Looking at the changes …</p></div></div>
@endsection
