@extends('layouts.app')
@section('title', $note->title.': '.$note->kind->title())
@php($show = \App\View\Show::class)
@section('content')
<div class="head">
    <div><nav class="crumbs"><a href="{{ route('notes.index') }}">Notes</a></nav>
        <h1>{{ $note->title }} <span class="tag {{ $note->closed_at ? 'g' : ($note->is_failure ? 'i' : 'o') }}">{{ $note->closed_at ? 'over' :
            $note->kind->title() }}</span>@if ($note->isAside()) <span class="tag">put aside</span>@endif</h1>
        <small>{{ $note->environment->name }} · raised {{ $show::at($note->raised_at) }}@if ($note->closed_at), over
            {{ $show::at($note->closed_at) }}@endif</small></div>
    <div class="acts">
        @if ($note->step($role))<a class="btn" href="{{ url($note->step($role)[0]) }}">{{ $note->step($role)[1] }}</a>@endif
        @if ($note->endpoint_id)<a class="btn" href="{{ route('notes.following', ['thing' => "e$note->endpoint_id"]) }}">Follow it</a>
        @elseif ($note->source_id && $role->mayBuild())<a class="btn"
            href="{{ route('notes.following', ['thing' => "s$note->source_id"]) }}">Follow it</a>@endif
        @if ($role->mayBuild() && $note->isAside())<form method="post" action="{{ route('notes.back', $note) }}">@csrf<button class="btn">Take
            it back</button></form>@endif
    </div>
</div>
<div class="body max-w-[860px]">
    <p class="{{ $note->closed_at ? 'note' : 'diagnosis' }}">{{ $note->sentenceFor($role) }}</p>
    <dl class="pairs my-4">
        <dt>Since</dt><dd>{{ $show::at($note->since) }} {{ $show::zone($note->since) }}@if ($note->isOpen()), {{ $show::ago($note->since) }}@endif</dd>
        @if ($note->isOpen() && $note->meanwhile)<dt>Meanwhile</dt><dd>{{ $note->meanwhile }}</dd>@endif
        @if ($role->mayBuild() && $note->advice)<dt>What would help</dt><dd>{{ $note->advice }}</dd>@endif
        @if ($note->isAside())<dt>Put aside</dt><dd>until {{ $show::at($note->aside_until) }} by {{ $note->asideBy?->name ?? 'somebody' }}</dd>@endif
    </dl>
    @if ($role->mayBuild() && $note->isOpen())
        <form method="post" action="{{ route('notes.aside', $note) }}" class="flex flex-wrap items-end gap-3" id="aside">
            @csrf
            <div class="field !mb-0"><label for="until">Put it aside</label>
                <select class="f" id="until" name="until" @error('until') aria-describedby="until-fault" @enderror>
                    @foreach (\App\Notes\AsideTime::CHOICES as $value => $label)<option value="{{ $value }}"
                        @selected(old('until') === $value)>{{ $label }}</option>@endforeach
                    <option value="time" @selected(old('until') === 'time')>until the time at the right</option>
                </select></div>
            <div class="field !mb-0"><label for="time">Time</label><input class="f" type="datetime-local" id="time" name="time" value="{{ old('time') }}"></div>
            <button class="btn">Put aside</button>
        </form>
        @error('until')<p class="fault mt-1" id="until-fault" role="alert">{{ $message }}</p>@enderror
        <p class="s mt-2">It leaves the lists until then, for everybody. Its cause stays.</p>
    @endif
    @if ($earlier->isNotEmpty())
        <h2 class="mt-6 mb-2">The same before</h2>
        <table class="rows"><thead><tr><th>Raised</th><th>Over</th><th></th></tr></thead><tbody>
        @foreach ($earlier as $one)<tr><td><a href="{{ route('notes.show', $one) }}">{{ $show::at($one->raised_at) }}</a></td>
            <td>{{ $one->closed_at ? $show::at($one->closed_at) : 'still open' }}</td><td class="wrap">{{ $one->sentenceFor($role) }}</td></tr>@endforeach
        </tbody></table>
    @endif
</div>
@endsection
