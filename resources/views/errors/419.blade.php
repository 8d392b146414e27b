@extends('layouts.error')
@section('code', '419')
@section('title', 'The page is too old')
@section('text')
<p>Your session ended before this was sent, so nothing was changed.</p>
<p class="mt-2">Go back, reload, and send it again.</p>
@endsection
