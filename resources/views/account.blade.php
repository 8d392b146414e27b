@extends('layouts.app')
@section('title', 'Your account')
@section('content')
@php($show = \App\View\Show::class)
<div class="head"><div><h1>Your account</h1><small>{{ $person->email }}, {{ $person->role->value }}</small></div></div>
<div class="account px-6 pb-10">
    @if (session('trouble'))<p class="diagnosis mb-4" role="alert">{{ session('trouble') }}</p>@endif
    <section aria-labelledby="you">
        <h2 id="you">You</h2>
        <form method="post" action="{{ route('account.update') }}">
            @csrf
            <x-field name="name" label="Name" :value="old('name', $person->name)" autocomplete="name" required />
            <div class="field">
                <label for="zone">Time zone</label>
                <select class="f" id="zone" name="zone">
                    @foreach ($zones as $zone)<option @selected($zone === old('zone', $person->zone))>{{ $zone }}</option>@endforeach
                </select>
            </div>
            <div class="grid grid-cols-2 gap-4">
                <div class="field">
                    <label for="dates">Dates</label>
                    <select class="f" id="dates" name="dates">
                        @foreach (\App\View\Moments::DATES as $key => $example)
                            <option value="{{ $key }}" @selected($key === $person->dates)>{{ $example }}</option>
                        @endforeach
                    </select>
                </div>
                <div class="field">
                    <label for="numbers">Numbers</label>
                    <select class="f" id="numbers" name="numbers">
                        @foreach (\App\View\Moments::GROUPS as $key => $example)
                            <option value="{{ $key }}" @selected($key === $person->numbers)>{{ $example }}</option>
                        @endforeach
                    </select>
                </div>
            </div>
            <button class="btn go">Save</button>
            <p class="s mt-2">What a service sent stands in tables as it is kept: times in UTC.</p>
        </form>
    </section>

    <section aria-labelledby="password-title">
        <h2 id="password-title">Password</h2>
        <form method="post" action="{{ route('account.password') }}">
            @csrf
            <x-field name="current" label="Current password" type="password" autocomplete="current-password" required />
            <x-new-password />
            @error('password')<p class="fault">{{ $message }}</p>@enderror
            @error('again')<p class="fault">{{ $message }}</p>@enderror
            <button class="btn go">Change it</button>
            <p class="s mt-2">Your other sessions end with it.</p>
        </form>
    </section>

    <section aria-labelledby="second-factor">
        <h2 id="second-factor">Second factor</h2>
        @if ($codes)
            <p class="note" role="status">
                <strong>Keep these codes where you find them without your phone.</strong>
                Each lets you in once. They are not shown again.
            </p>
            <ul class="m my-3 grid grid-cols-2 gap-x-8 gap-y-1">@foreach ($codes as $code)<li>{{ $code }}</li>@endforeach</ul>
            <button type="button" class="btn small" data-copy="{{ implode("\n", $codes) }}">Copy them</button>
        @endif
        @if ($person->hasSecondFactor())
            <p class="my-3">
                <span class="tag g">in use</span> since {{ $show::day($person->totp_confirmed_at) }};
                {{ $show::count(count($person->recovery_codes ?? []), 'recovery code') }} left
            </p>
            <form method="post" action="{{ route('account.second.codes') }}">
                @csrf
                <input type="hidden" name="for" value="current-second">
                <x-present-password />
                <p class="flex gap-3">
                    <button class="btn">New recovery codes</button>
                    <button class="btn" name="_method" value="delete" formaction="{{ route('account.second.remove') }}">Remove the second factor</button>
                </p>
            </form>
        @elseif ($offered)
            <ol class="list-decimal space-y-3 pl-5">
                <li>Read this with an authenticator, or type the key into it.
                    <div class="my-2 flex items-center gap-5">
                        <div data-qr="{{ $offered[1] }}" class="qr" role="img" aria-label="The key as a picture for an authenticator"></div>
                        <p><small>Key</small><br><code>{{ $offered[0] }}</code></p>
                    </div>
                </li>
                <li>Give the six digits that it shows.
                    <form method="post" action="{{ route('account.second.confirm') }}" class="mt-2">
                        @csrf
                        <x-field name="code" label="Code" class="m" autocomplete="one-time-code" inputmode="numeric" required />
                        <button class="btn go">Turn it on</button>
                    </form>
                </li>
            </ol>
        @else
            <p class="my-2">
                Besides the password, six digits that an authenticator on your phone shows (TOTP, RFC 6238).
                Whoever gets to know your password cannot sign in with it alone.
            </p>
            <form method="post" action="{{ route('account.second.begin') }}">
                @csrf
                <input type="hidden" name="for" value="current-second">
                <x-present-password />
                <button class="btn go">Set it up</button>
            </form>
        @endif
    </section>

    <section aria-labelledby="sessions" class="wide">
        <h2 id="sessions">Where you are signed in</h2>
        <table class="rows">
            <thead><tr><th>Browser</th><th>Address</th><th>Since</th><th>Last seen</th><th></th></tr></thead>
            <tbody>
            @foreach ($sessions as $session)
                <tr>
                    <td>{{ $session->device() }}@if ($session->id === $current?->id) <span class="tag">this one</span>@endif</td>
                    <td class="m">{{ $session->ip }}</td><td>{{ $show::at($session->begun_at) }}</td><td>{{ $show::ago($session->seen_at) }}</td>
                    <td>
                        @if ($session->id !== $current?->id)
                            <x-act :to="route('account.sessions.end', $session)" method="delete" label="End it" :of="$session->device().' at '.$session->ip" />
                        @endif
                    </td>
                </tr>
            @endforeach
            </tbody>
        </table>
        @if ($sessions->count() > 1)
            <form method="post" action="{{ route('account.sessions.end-others') }}" class="mt-3">
                @csrf
                @method('delete')
                <button class="btn">End all others</button>
            </form>
        @endif
    </section>
</div>
@endsection
