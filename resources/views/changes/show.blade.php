@extends('layouts.app')
@section('title', "Change $kept->name")
@section('content')
@php($show = \App\View\Show::class)
@php($state = \App\Models\ChangeSetState::class)
@php($columns = $table->columns())
@php($act = \DeepSpring\Change\RecordAct::class)
@php($link = fn (array $with) => '?'.http_build_query(array_filter($with + ['sort' => $order->column, 'dir' => $order->descending ? 'desc' : null, 'q' => $search,
    'set' => $isMine ? null : $set?->id])))
@php($counts = $set?->counts() ?? [])
@php($pending = ($counts['pending'] ?? 0) + ($counts['sending'] ?? 0))
@php($isOpen = $set === null || in_array($set->state, [$state::Open, $state::Stopped], true))
<div class="head">
    <div>
        <nav class="crumbs"><a href="{{ route('tables.index') }}">Tables</a> › <a class="m"
            href="{{ route('tables.show', $kept->name) }}">{{ $kept->name }}</a></nav>
        <h1 class="m !text-xl">Change {{ $kept->name }} <span class="tag">{{ $environment->name }}</span>
            <span class="tag o" id="pending" @if ($pending === 0) hidden @endif>{{ $show::number($pending) }} pending</span>
            @foreach (['refused' => 'refused', 'conflict' => 'in conflict', 'unknown' => 'unknown'] as $outcome => $words)@if (($counts[$outcome] ?? 0) > 0)<span
                class="tag i">{{ $show::number($counts[$outcome]) }} {{ $words }}</span>@endif @endforeach
            @unless ($isMine)<span class="tag">of {{ $set->user->name }}</span>@endunless
            @unless ($isOpen)<span class="tag o">{{ $set->state->words() }}</span>@endunless</h1>
    </div>
    <div class="acts">
        <form method="get" role="search"><label class="visually-hidden" for="q">Find in the texts of this table</label><input class="f" id="q" name="q"
            value="{{ $search }}" placeholder="find in the rows"></form>
        @if ($isMine && $isOpen)
            @if ($table->plan->can($act::Create))<button class="btn" type="button" data-add>New row</button>@endif
            <a class="btn" href="{{ route('changes.bulk', $kept->name) }}">In bulk …</a>
        @endif
        <a class="btn" href="{{ route('journal.index', ['table' => $kept->name]) }}">Journal</a>
        @if ($isMine && $isOpen)<a class="btn go" href="#look" data-look>Look before sending <span class="font-normal">Ctrl ↵</span></a>@endif
    </div>
</div>
<div class="px-6 pb-10">
    @if ($fault)<div class="diagnosis" role="alert">{{ $fault }}</div>@endif
    @error('change')<div class="diagnosis" role="alert">{{ $message }}</div>@enderror
    @foreach ($others as $one)<p class="note live"
        role="note">{{ $one->user->name }} {{ $one->state === $state::Waiting ? 'asks for approval of' : 'shares' }} <a
        href="{{ route('changes.show', ['name' => $kept->name, 'set' => $one->id]) }}">{{ $show::count($one->changes()->where('state', '!=',
            'done')->count(), 'change') }}</a>.</p>@endforeach
    <p class="diagnosis" id="change-fault" role="alert" hidden></p>
    @if ($isMine && $isOpen)<div class="acts-bar mb-2" id="picked" hidden>
        <span><strong data-picked>0</strong> selected</span>
        @if ($table->plan->can($act::Delete) && $grid->rights->may($act::Delete))<form method="post"
            action="{{ route('changes.rows', $kept->name) }}">@csrf<input type="hidden"
            name="do" value="delete"><input type="hidden" name="rows" data-rows><button class="btn small">Delete</button></form>@endif
        @foreach ($table->plan->actions as $number => $action)@if ($grid->rights->may($act::Call, null, $action->endpoint->slug))<form
            class="flex gap-2" method="post"
            action="{{ route('changes.rows', $kept->name) }}">@csrf<input type="hidden" name="do" value="call"><input type="hidden" name="action"
            value="{{ $number }}"><input type="hidden" name="rows" data-rows>@foreach ($action->asked() as $input)<label class="visually-hidden"
            for="given-{{ $number }}-{{ $input->name }}">{{ $input->name }}</label><input class="f !w-32" id="given-{{ $number }}-{{ $input->name }}"
            name="given[{{ $input->name }}]" placeholder="{{ $input->name }}">@endforeach<button
                class="btn small">{{ $action->name }}</button></form>@endif @endforeach
        <span class="s">nothing is sent before you have looked at it</span>
    </div>@endif
    <div class="scroll" tabindex="-1" role="region" aria-label="Rows of {{ $kept->name }}">
    <table class="rows changing" id="grid" @if ($isMine && $isOpen) data-cells="{{ route('changes.cells', $kept->name) }}"
        data-look="{{ route('changes.look', $kept->name) }}"
        data-offered="{{ route('changes.offered', $kept->name) }}" @endif>
        <thead><tr><th class="pick"><span class="visually-hidden">Select</span></th>
        @foreach ($columns as $column)
            @php($isSort = $order->column === $column->name)
            @php($one = $table->changeable[$column->given] ?? null)
            <th data-type="{{ $column->type }}" data-column="{{ $column->given }}"
                @if (($one?->choices ?? []) !== [] || $one?->offeredBy !== null) data-offers @endif
                @class(['n' => $column->isNumber()]) title="{{ trim($column->about().' '.($one?->why ?? '')) }}"
                @if ($isSort) aria-sort="{{ $order->descending ? 'descending' : 'ascending' }}" @endif><a href="{{ $link(['sort' => $column->name,
                'dir' => $isSort && ! $order->descending ? 'desc' : null]) }}">{{ $column->name }}{{ $isSort ? ($order->descending ? ' ↓' : ' ↑') : '' }}</a></th>
        @endforeach
        <th><span class="visually-hidden">What becomes of it</span></th></tr></thead>
        <tbody>
        @forelse ($rows as $one)@include('changes.row')@empty
            <tr data-none><td colspan="{{ count($columns) + 2 }}">{{ $search !== '' ? "No row has “{$search}” in it." : 'The table is empty.' }}</td></tr>
        @endforelse
        </tbody>
    </table>
    </div>
    <nav class="mt-2 flex flex-wrap gap-4 text-sm" aria-label="Pages">
        <span class="s">{{ $show::count(count($page->rows ?? []),
            'row') }} of {{ $show::number($kept->rows) }} · type to change a cell, paste a block, <kbd>Ctrl D</kbd> fills
            down, <kbd>Ctrl Z</kbd> takes a step back · nothing is sent yet</span>
        @if ($page?->before)<a href="{{ $link(['from' => null]) }}">First</a><a href="{{ $link(['from' => $page->before]) }}" rel="prev">Previous</a>@endif
        @if ($page?->after)<a href="{{ $link(['from' => $page->after]) }}" rel="next">Next</a>@endif
    </nav>
    <div class="mt-6" hx-get="{{ route('changes.look', array_filter(['name' => $kept->name, 'set' => $set?->id, 'look' => request('look')])) }}"
        hx-trigger="load" data-quiet><div id="look"><p class="s">Looking at what is pending …</p></div></div>
    @if ($set !== null)
    <div class="mt-3 flex flex-wrap items-center gap-3" id="sending">
        @if ($isMine && $isOpen)
            <form class="flex flex-wrap items-center gap-3" method="post" action="{{ route('changes.send', $kept->name) }}">@csrf
                @if ($environment->slug === 'production')<label><input type="checkbox" name="sure" value="1" required> This changes Production</label>@endif
                <button class="btn go" id="send">Send</button></form>
            <form method="post" action="{{ route('changes.share', $kept->name) }}">@csrf<button
                class="btn">{{ $set->is_shared ? 'Stop sharing' : 'Let others look at it' }}</button></form>
            <form method="post" action="{{ route('changes.rows', $kept->name) }}">@csrf<input type="hidden" name="do" value="clear"><button
                class="btn">Put what is done out of sight</button></form>
            <form method="post" action="{{ route('changes.rows', $kept->name) }}">@csrf<input type="hidden" name="do" value="drop"><button
                class="btn">Take all back</button></form>
        @elseif ($isMine)
            <form method="post" action="{{ route('changes.stop', $kept->name) }}">@csrf<button
                class="btn">{{ $set->state === $state::Waiting ? 'Take it back' : 'Stop' }}</button></form>
        @elseif ($mayApprove && $set->state === $state::Waiting)
            <form method="post" action="{{ route('changes.approve', ['name' => $kept->name, 'changes' => $set->id]) }}">@csrf<button
                class="btn go">Approve and send</button></form>
            <form method="post" action="{{ route('changes.approve', ['name' => $kept->name, 'changes' => $set->id]) }}">@csrf<input type="hidden"
                name="no" value="1"><button class="btn">Give it back</button></form>
        @endif
    </div>
    @endif
</div>
@endsection
