@extends('layouts.app')
@section('title', 'Notices of an import')
@section('content')
<div class="head"><div>
    <nav class="crumbs"><a href="{{ route('imports.show', $import) }}">Choose endpoints</a></nav>
    <h1>{{ ['left-out' => 'Left out', 'mended' => 'Corrected', 'note' => 'Worth knowing'][$group->kind] }} <small>{{ $group->title }}</small></h1>
</div></div>
<div class="body">
    <table class="rows"><thead><tr><th>Where</th><th>What</th></tr></thead><tbody>
    @foreach ($notices as $one)<tr><td class="m wrap">{{ $one->place }}</td><td class="wrap">{{ $one->what }}</td></tr>@endforeach
    </tbody></table>
    <x-pages :of="$notices" one="place" />
</div>
@endsection
