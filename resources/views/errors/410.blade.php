@extends('layouts.error')
@section('code', '410')
@section('title', 'No longer there')
@section('text')
<p>{{ \App\View\Show::reason($exception, 'What stood at this address is no longer kept.') }}</p>
@endsection
