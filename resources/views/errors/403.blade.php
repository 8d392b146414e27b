@extends('layouts.plain')
@section('title', 'Not for you')
@section('page')
<header class="band"><a class="word" href="/"><x-mark />Deep Spring</a></header>
<main class="body">
    <div class="mx-auto mt-20 w-[480px]">
        <p class="m text-silt">403</p>
        <h1 class="mb-2">Not for you</h1>
        <p>{{ $exception->getMessage() !== '' && 403 === 404 && ! str_contains($exception->getMessage(), '\\') && !
            str_contains($exception->getMessage(), 'route') ? $exception->getMessage() : 'This page is for those who build sources.' }}</p>
        <p class="mt-2">An administrator can change what you may do.</p>
        <p class="mt-5"><a class="btn" href="/">To the watershed</a></p>
    </div>
</main>
@endsection
