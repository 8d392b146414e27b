@extends('layouts.door')
@section('title', 'Forgotten password')
@section('door')
<h1 class="mb-2">A new password</h1>
@if ($mail)
    <p class="mb-5">We send a link to your email address. It works once, within an hour.</p>
    <form method="post" action="{{ route('forgotten.store') }}">
        @csrf
        <x-field name="email" label="Email" type="email" autocomplete="username" required autofocus />
        <p class="flex items-center gap-4"><button class="btn go">Send me the link</button> <a href="{{ route('sign-in') }}">Back</a></p>
    </form>
@else
    <p>This installation sends no mail. An administrator can make a link for you, under <em>People</em>; it works once, within an hour.</p>
    <p class="mt-4"><a href="{{ route('sign-in') }}">Back</a></p>
@endif
@endsection
