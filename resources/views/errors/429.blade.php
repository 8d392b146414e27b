@extends('layouts.error')
@section('code', '429')
@section('title', 'Too many attempts')
@section('text')
<p>This was tried too often in a short time.</p>
<p class="mt-2">Wait a minute, then try again.</p>
@endsection
