@use('App\View\Show')
@extends('layouts.app')
@section('title', "Publish $source->name")
@section('content')
<div class="head"><div><nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a> › <a
    href="{{ route('sources.show', $source) }}">{{ $source->name }}</a></nav><h1>What becomes of these tables?</h1></div></div>
<form method="post" action="{{ route('sources.publish', $source) }}" class="body max-w-[900px]">
    @csrf
    <p class="mb-2">The draft no longer has the {{ $tables->pluck('endpoint_id')->unique()->count() === 1 ? 'endpoint' : 'endpoints' }} of
        {{ Show::count($tables->count(), 'table') }}. Once it is published, nothing refreshes {{ $tables->count() === 1 ? 'it' : 'them' }} any more.</p>
    <table class="rows mb-3"><thead><tr><th>Table</th><th>Environment</th><th class="n">Rows</th><th>Refreshed</th><th>Endpoint</th></tr></thead><tbody>
    @foreach ($tables as $table)
        <tr><td class="m">{{ $table->name }}</td><td>{{ $table->environment->name }}</td><td class="n">{{ Show::number($table->rows) }}</td>
            <td>{{ Show::ago($table->refreshed_at) }}</td><td>{{ $table->endpoint->name }}</td></tr>
    @endforeach
    </tbody></table>
    @if ($readers->isNotEmpty())<p class="note">{{ $readers->count() === 1 ? 'A saved query reads from here' : 'Saved queries read from here' }} and
        would fail without {{ $tables->count() === 1 ? 'it' : 'them' }}:
        {{ $readers->map(fn ($one) => $one->nameFor(auth()->user()))->unique()->join(', ', ' and ') }}.</p>@endif
    @isset($failed)<p class="fault" role="alert">{{ $failed }}</p>@endisset
    <p class="mt-3 flex flex-wrap gap-2">
        <button class="btn go" name="tables" value="keep" id="orphans-keep">Publish, and leave the rows as they are</button>
        <button class="btn bad" name="tables" value="forget" id="orphans-forget">Publish, and delete {{ $tables->count() === 1 ? 'it' : 'them' }}</button>
        <a class="btn" href="{{ route('sources.show', $source) }}">Not now</a>
    </p>
</form>
@endsection
