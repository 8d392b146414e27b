@extends('layouts.error')
@section('code', '404')
@section('title', 'Nothing here')
@section('text')
<p>{{ \App\View\Show::reason($exception, 'There is nothing at this address, or not in the environment you work in.') }}</p>
<p class="mt-2">Go back and check which environment you work in, or start from the Watershed.</p>
@endsection
