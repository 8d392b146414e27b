@extends('layouts.door')
@section('title', 'Link over')
@section('door')
<h1 class="mb-2">This link does not work any more</h1>
<p>It was used already, it has expired, or a newer one took its place. Ask whoever sent it for another.</p>
<p class="mt-4"><a class="btn" href="{{ route('sign-in') }}">To the sign-in</a></p>
@endsection
