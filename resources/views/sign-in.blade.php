@extends('layouts.plain')
@section('title', 'Sign in')
@section('page')
<header class="band"><span class="word"><x-mark />Deep Spring</span></header>
<main class="body">
    <form method="post" action="{{ route('sign-in.store') }}" class="mx-auto mt-20 w-[360px]">
        @csrf
        <h1 class="mb-1">Sign in</h1>
        <p class="s mb-5">APIs in, dependable tables out.</p>
        @foreach ($errors->all() as $sentence)
            <p class="diagnosis" role="alert">{{ $sentence }}</p>
        @endforeach
        <div class="field">
            <label for="email">Mail address</label>
            <input class="f" id="email" name="email" type="email" value="{{ old('email') }}" autocomplete="username" required autofocus>
        </div>
        <div class="field">
            <label for="password">Password</label>
            <input class="f" id="password" name="password" type="password" autocomplete="current-password" required>
        </div>
        <button class="btn go">Sign in</button>
    </form>
</main>
@endsection
