@extends('layouts.plain')
@section('title', 'Nothing here')
@section('page')
<header class="band"><a class="word" href="/"><x-mark />Deep Spring</a></header>
<main class="body">
    <div class="mx-auto mt-20 w-[480px]">
        <p class="m text-silt">404</p>
        <h1 class="mb-2">Nothing here</h1>
        <p>{{ $exception->getMessage() !== '' && 404 === 404 && ! str_contains($exception->getMessage(), '\\') && !
            str_contains($exception->getMessage(), 'route') ? $exception->getMessage() :
            'There is nothing at this address, or not in the environment you work in.' }}</p>
        <p class="mt-2">Check the environment in the band above, or start from the watershed.</p>
        <p class="mt-5"><a class="btn" href="/">To the watershed</a></p>
    </div>
</main>
@endsection
