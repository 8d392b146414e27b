@extends('layouts.plain')
@section('title', 'Not available')
@section('page')
<header class="band"><a class="word" href="/"><x-mark />Deep Spring</a></header>
<main class="body">
    <div class="mx-auto mt-20 w-[480px]">
        <p class="m text-silt">503</p>
        <h1 class="mb-2">Not available</h1>
        @isset($reason)
            <p>{{ $reason }}</p>
        @else
            <p>The application is being looked after.</p>
            <p class="mt-2">It will be back shortly.</p>
        @endisset
        <p class="mt-5"><a class="btn" href="/">To the watershed</a></p>
    </div>
</main>
@endsection
