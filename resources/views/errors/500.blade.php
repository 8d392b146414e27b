@extends('layouts.error')
@section('code', '500')
@section('title', 'Something broke here')
@section('text')
<p>This is a fault of the application, not of your input.</p>
<p class="mt-2">It was written to the log. Go back and try again.</p>
@endsection
