@extends('layouts.app')
@section('title', $sheet->definition->name)
@section('go', 'try it')
@section('strata', 'yes')
@section('docs', 'yes')
@section('content')
@if ($notes->isNotEmpty())<div class="mx-6 mt-3">@include('notes.of', ['notes' => $notes->take(4)])@if ($notes->count() > 4)<p class="s mb-2"><a
    href="{{ route('notes.index', ['source' => $source->slug]) }}">{{ $notes->count() - 4 }} more</a></p>@endif</div>@endif
@includeWhen($upload !== null, 'sources.upload')
@include('endpoints.sheet')
@endsection
