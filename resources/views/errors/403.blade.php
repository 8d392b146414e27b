@extends('layouts.error')
@section('code', '403')
@section('title', 'You have no access to this')
@section('text')
<p>This page is for those who build sources.</p>
<p class="mt-2">An administrator can change what you may do.</p>
@endsection
