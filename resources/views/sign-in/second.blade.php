@extends('layouts.door')
@section('title', 'Second factor')
@section('door')
<h1 class="mb-1">One more step</h1>
<p class="mb-5">The six digits that your authenticator shows now, or one of your recovery codes.</p>
<form method="post" action="{{ route('sign-in.second.store') }}">
    @csrf
    <div class="field">
        <label for="code">Code</label>
        <input class="f m" id="code" name="code" autocomplete="one-time-code" autocapitalize="off" spellcheck="false" required autofocus>
    </div>
    <p class="flex items-center gap-4"><button class="btn go">Sign in</button> <a href="{{ route('sign-in') }}">Start over</a></p>
</form>
@endsection
