@extends('layouts.app')
@section('title', $sheet->definition->name)
@section('go', 'try it')
@section('strata', 'yes')
@section('docs', 'yes')
@section('content')
@include('endpoints.sheet')
@endsection
