@extends('layouts.app')
@section('title', 'Find')
@section('content')
<div class="head"><h1>Find</h1></div>
<div class="body">
    <form method="get" class="flex max-w-[520px] gap-2" role="search">
        <label class="visually-hidden" for="q">A part of a name</label>
        <input class="f" id="q" name="q" value="{{ $search }}" placeholder="a screen, source, table, column, query or run" autofocus>
        <button class="btn go">Find</button>
    </form>
    @if ($found === [])
        <p class="mt-4">Nothing in {{ $environment->name }} is named like “{{ $search }}”.</p>
    @else
        <table class="rows mt-4 max-w-[720px]">
            <thead><tr><th>Name</th><th>is</th><th>of</th></tr></thead>
            <tbody>
            @foreach ($found as $one)
                <tr><td><a href="{{ $one->url }}">{{ $one->name }}</a></td><td>{{ $one->kind }}</td><td>{{ $one->in }}</td></tr>
            @endforeach
            </tbody>
        </table>
    @endif
</div>
@endsection
