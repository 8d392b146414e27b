@extends('layouts.app')
@section('title', $sheet->endpoint['name'].': what is asked for')
@section('go', 'look at 20 rows')
@section('content')
@include('services.choosing')
@endsection
