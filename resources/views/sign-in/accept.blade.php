@extends('layouts.door')
@section('title', 'Choose a password')
@section('door')
<h1 class="mb-1">{{ $invitation->purpose === 'reset' ? 'A new password' : 'Welcome' }}</h1>
<p class="mb-5">
    @if ($invitation->purpose === 'reset')
        For {{ $invitation->user->name }}. It ends every session that is open.
    @elseif ($invitation->purpose === 'first')
        You are the first administrator of this installation.
    @else
        {{ $invitation->madeBy?->name ?? 'An administrator' }} has invited {{ $invitation->email }} as {{ $invitation->role->value }}.
    @endif
</p>
<form method="post" action="{{ route('invitations.accept', $token) }}">
    @csrf
    @if ($invitation->user === null)
        <x-field name="name" label="Your name" :value="is_string(old('name')) ? old('name') : $invitation->name" maxlength="190" autocomplete="name" required />
        @if ($invitation->email === null)
            <x-field name="email" label="Email" type="email" :value="old('email')" autocomplete="username" required />
        @endif
    @endif
    <x-new-password />
    <button class="btn go">{{ $invitation->purpose === 'reset' ? 'Change the password' : 'Continue' }}</button>
</form>
@endsection
