@extends('layouts.plain')
@section('page')
<header class="band"><a class="word" href="/"><x-mark />Deep Spring</a></header>
<main class="body">
    <div class="mx-auto mt-20 max-w-[480px] px-6">
        <p class="m text-silt">@yield('code')</p>
        <h1 class="mb-2">@yield('title')</h1>
        @yield('text')
        <p class="mt-5"><a class="btn" href="/">To the Watershed</a></p>
    </div>
</main>
@endsection
