@extends('layouts.plain')
@section('title', 'The page is too old')
@section('page')
<header class="band"><a class="word" href="/"><x-mark />Deep Spring</a></header>
<main class="body">
    <div class="mx-auto mt-20 w-[480px]">
        <p class="m text-silt">419</p>
        <h1 class="mb-2">The page is too old</h1>
        <p>{{ $exception->getMessage() !== '' && 419 === 404 && ! str_contains($exception->getMessage(), '\\') && !
            str_contains($exception->getMessage(), 'route') ? $exception->getMessage() :
            'Your session ended before this was sent, so nothing was changed.' }}</p>
        <p class="mt-2">Go back, reload, and send it again.</p>
        <p class="mt-5"><a class="btn" href="/">To the watershed</a></p>
    </div>
</main>
@endsection
