@extends('layouts.app')
@section('title', "Where a row of $table->name comes from")
@section('content')
<div class="head"><div>
    <nav class="crumbs"><a href="{{ route('tables.index') }}">Tables</a> › <a class="m"
        href="{{ route('tables.show', $table->name) }}">{{ $table->name }}</a></nav>
    <h1>{{ $sheet?->title() ?? 'A row' }}</h1>
    <small>Where it comes from</small>
</div></div>
<div class="body">
    @if ($fault !== null)<div class="diagnosis" role="alert">{{ $fault }}</div>@endif
    @if ($sheet !== null)@include('tables.origin-of')@endif
</div>
@endsection
