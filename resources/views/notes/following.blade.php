@extends('layouts.app')
@section('title', 'What you follow')
@section('content')
<div class="head">
    <div><nav class="crumbs"><a href="{{ route('notes.index') }}">Notes</a></nav><h1>What you follow</h1>
        <small>you are told when a note on it is raised, and when it is over</small></div>
</div>
<div class="body">
    @if ($secret)
        <div class="note mb-4" role="status" id="secret"><strong>The secret by which you know that a message comes from here.</strong>
            It is not shown again. <code class="break-all">{{ $secret[1] }}</code> <button type="button" class="btn small"
            data-copy="{{ $secret[1] }}">Copy it</button>
            <p class="s mt-1">Each message carries <code>webhook-id</code>, <code>webhook-timestamp</code> and <code>webhook-signature</code>, as Standard
                Webhooks describes.</p></div>
    @endif
    @if ($follows->isNotEmpty())
    <div class="scroll mb-6" tabindex="0" role="region" aria-label="What you follow">
    <table class="rows">
        <thead><tr><th>What</th><th>Where</th><th>How</th><th>When</th><th>Last message</th><th></th></tr></thead>
        <tbody>
        @foreach ($follows as $one)
            @php($sent = $last->get($one->id))
            @php($of = $one->thing().' in '.$one->environment->name)
            <tr>
                <td class="wrap">{{ $one->thing() }}@if ($one->failures_only) <small>failures only</small>@endif</td>
                <td>{{ $one->environment->name }}</td>
                <td class="wrap">@if ($one->by === 'mail')mail to {{ $person->email }}@else<span class="break-all">POST to {{ $one->address }}</span>@endif</td>
                <td>{{ $one->daily_at ? "once a day at $one->daily_at" : 'at once' }}</td>
                <td class="wrap">@if ($one->ended)<span class="tag i">ended</span> {{ $one->ended }}@elseif ($sent)<span class="tag {{ ['sent' => 'g', 'lost'
                    => 'i'][$sent->state] ?? ($sent->attempts > 0 ? 'o' : '') }}">{{ $sent->state }}</span> <a
                    href="{{ route('notes.deliveries', $one) }}" aria-label="Messages about {{ $of }}">{{ \App\View\Show::ago($sent->created_at) }}</a>
                    @if ($sent->state !== 'sent')<small>{{ $sent->answer }}</small>@endif @else<small>none yet</small>@endif</td>
                <td><div class="row-acts">@unless ($one->ended)<x-act :to="route('notes.follow.test', $one)" label="Send a test" :of="'for '.$of" />
                    @if ($one->by === 'post')<x-act :to="route('notes.follow.secret', $one)" label="New secret" :of="'for '.$of" />@endif @endunless
                    <x-act :to="route('notes.unfollow', $one)" method="delete" label="Stop" :of="'following '.$of" /></div></td>
            </tr>
        @endforeach
        </tbody>
    </table>
    </div>
    <x-pages :of="$follows" one="thing" />
    @else
        <p class="mb-4">You follow nothing yet.</p>
    @endif
    <h2 class="mb-2">Follow {{ $follows->isNotEmpty() ? 'something else' : 'something' }} in {{ $environment->name }}</h2>
    <form method="post" action="{{ route('notes.follow') }}" class="max-w-[640px]" id="follow">
        @csrf
        <div class="field"><label for="thing">What</label>
            <select class="f" id="thing" name="thing" @error('thing') aria-invalid="true" aria-describedby="thing-fault" @enderror>
                @foreach ($things as $value => $label)<option value="{{ $value }}" @selected(old('thing', $asked) === (string) $value)>{{ $label }}</option>
                @endforeach</select>
            @error('thing')<p class="fault" id="thing-fault" role="alert">{{ $message }}</p>@enderror</div>
        <div class="field"><label for="which">Notes</label>
            <select class="f" id="which" name="which"><option value="all">all of them</option><option value="failures" @selected(old('which') ===
                'failures')>failures only: what was refused, failed or is paused</option></select></div>
        <fieldset class="field"><legend>How</legend>
            <p><label><input type="radio" name="by" value="mail" @checked(old('by', 'mail') === 'mail')> by mail to {{ $person->email }}</label>
                @unless ($mail)<small class="block">No mail is set up here. Whoever runs this installation gives it <code>MAIL_HOST</code>; until then
                    choose an address.</small>@endunless</p>
            <p><label><input type="radio" name="by" value="post" @checked(old('by') === 'post')> by a signed POST to</label>
                <label class="visually-hidden" for="address">Address that it is posted to</label>
                <input class="f mt-1" id="address" name="address" value="{{ old('address') }}" placeholder="https://desk.saltmarsh.example/hooks"
                @error('address') aria-invalid="true" aria-describedby="address-fault" @enderror></p>
            @error('address')<p class="fault" id="address-fault" role="alert">{{ $message }}</p>@enderror
        </fieldset>
        <fieldset class="field"><legend>When</legend>
            <p><label><input type="radio" name="when" value="once" @checked(old('when', 'once') === 'once')> at once</label></p>
            <p><label><input type="radio" name="when" value="daily" @checked(old('when') === 'daily')> once a day, at</label>
                <label class="visually-hidden" for="daily_at">Time of day</label><input class="f !w-32" type="time" id="daily_at" name="daily_at"
                value="{{ old('daily_at', '07:00') }}" @error('daily_at') aria-invalid="true" aria-describedby="daily_at-fault" @enderror>
                <small>{{ $person->zone }}; what is open then, if anything is</small></p>
            @error('daily_at')<p class="fault" id="daily_at-fault" role="alert">{{ $message }}</p>@enderror
        </fieldset>
        <button class="btn go">Follow</button>
    </form>
</div>
@endsection
