@extends('layouts.app')
@section('title', $source->name)
@section('go', 'tests the source')
@section('strata', 'yes')
@section('docs', 'yes')
@section('content')
@include('sources.sheet')
@endsection
