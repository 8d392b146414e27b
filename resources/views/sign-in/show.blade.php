@extends('layouts.door')
@section('title', 'Sign in')
@section('door')
<h1 class="mb-1">Sign in</h1>
<p class="s mb-5">APIs in, dependable tables out.</p>
@if ($passwords)
    <form method="post" action="{{ route('sign-in.store') }}">
        @csrf
        <div class="field">
            <label for="email">Email</label>
            <input class="f" id="email" name="email" type="email" value="{{ $email }}" autocomplete="username" required autofocus>
        </div>
        <div class="field">
            <label for="password">Password</label>
            <input class="f" id="password" name="password" type="password" autocomplete="current-password" required>
        </div>
        <p class="flex items-center gap-4"><button class="btn go">Sign in</button> <a href="{{ route('forgotten') }}">Forgot the password?</a></p>
    </form>
@endif
@if ($provider !== null)
    <p @class(['mt-6 border-t border-seam pt-4' => $passwords])>
        <a @class(['btn', 'go' => ! $passwords]) href="{{ route('provider') }}">Sign in with {{ $provider }}</a>
    </p>
@endif
@endsection
