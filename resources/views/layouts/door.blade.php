@extends('layouts.plain')
@section('page')
<header class="band"><a class="word" href="/"><x-mark />Deep Spring</a></header>
<main class="body">
    <div class="mx-auto mt-20 w-[400px] max-w-full px-2">
        @if (session('notice'))<p class="note mb-4" role="status">{{ session('notice') }}</p>@endif
        @if (session('trouble'))<p class="diagnosis mb-4" role="alert">{{ session('trouble') }}</p>@endif
        @foreach ($errors->all() as $sentence)
            <p class="diagnosis mb-4" role="alert">{{ $sentence }}</p>
        @endforeach
        @yield('door')
        <noscript><p class="note mt-6">Most pages of Deep Spring need JavaScript: without it their buttons do nothing.</p></noscript>
    </div>
</main>
@endsection
