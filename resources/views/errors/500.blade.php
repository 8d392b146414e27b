@extends('layouts.plain')
@section('title', 'Something broke here')
@section('page')
<header class="band"><a class="word" href="/"><x-mark />Deep Spring</a></header>
<main class="body">
    <div class="mx-auto mt-20 w-[480px]">
        <p class="m text-silt">500</p>
        <h1 class="mb-2">Something broke here</h1>
        <p>{{ $exception->getMessage() !== '' && 500 === 404 && ! str_contains($exception->getMessage(), '\\') && !
            str_contains($exception->getMessage(), 'route') ? $exception->getMessage() : 'This is a fault of the application, not of your input.' }}</p>
        <p class="mt-2">It was written to the log. Nothing was lost; go back and try again.</p>
        <p class="mt-5"><a class="btn" href="/">To the watershed</a></p>
    </div>
</main>
@endsection
