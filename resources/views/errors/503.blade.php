@extends('layouts.error')
@section('code', '503')
@section('title', 'Not available')
@section('text')
@isset($reason)
    <p>{{ $reason }}</p>
@else
    <p>The application is under maintenance.</p>
    <p class="mt-2">It will be back shortly.</p>
@endisset
@endsection
