@extends('layouts.plain')
@section('title', 'Too many attempts')
@section('page')
<header class="band"><a class="word" href="/"><x-mark />Deep Spring</a></header>
<main class="body">
    <div class="mx-auto mt-20 w-[480px]">
        <p class="m text-silt">429</p>
        <h1 class="mb-2">Too many attempts</h1>
        <p>{{ $exception->getMessage() !== '' && 429 === 404 && ! str_contains($exception->getMessage(), '\\') && !
            str_contains($exception->getMessage(), 'route') ? $exception->getMessage() : 'This was tried too often in a short time.' }}</p>
        <p class="mt-2">Wait a minute, then try again.</p>
        <p class="mt-5"><a class="btn" href="/">To the watershed</a></p>
    </div>
</main>
@endsection
