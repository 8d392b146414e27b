@extends('layouts.app')
@section('title', 'Compare versions')
@section('content')
@php($name = fn ($document) => $document->version === null ? 'the draft' : "version $document->version")
<div class="head"><div>
    <nav class="crumbs"><a href="{{ route('sources.show', $source) }}">{{ $source->name }}</a> › <a
        href="{{ route('sources.versions', $source) }}">Versions</a></nav>
    <h1>{{ ucfirst($name($left)) }} against {{ $name($right) }}</h1>
</div>
<div class="acts"><form method="get" class="flex items-center gap-2">
    @foreach (['a' => $left, 'b' => $right] as $field => $document)<label class="visually-hidden" for="{{ $field }}">{{ $field === 'a' ? 'one' :
        'other' }}</label><select class="f !w-auto" id="{{ $field }}" name="{{ $field }}">@if ($hasDraft)<option value="draft"
        @selected($document->version === null)>the draft</option>@endif @foreach ($all as $one)<option value="{{ $one }}"
        @selected($document->version === $one)>version {{ $one }}</option>@endforeach</select>@endforeach
    <button class="btn">Compare</button></form></div></div>
<div class="body">
@if ($changes === [])<p><span class="tag g">the same</span> they say the same.</p>
@else
    <p class="mb-2">{{ \App\View\Show::count(count($changes), 'change') }}</p>
    <table class="rows"><thead><tr><th>Where</th><th></th><th>was</th><th>is</th></tr></thead><tbody>
    @foreach ($changes as $change)
        <tr><td class="wrap">{{ implode(' › ', $change->place()) }}</td><td><span class="tag {{ ['added' => 'g', 'removed' => 'i', 'changed' =>
            'o'][$change->kind] }}">{{ $change->kind }}</span></td>
        <td class="m wrap">{{ $change->kind === 'added' ? '' : mb_strimwidth(\DeepSpring\SourceFile\DocumentChange::shown($change->was), 0, 300, '…',
            'UTF-8') }}</td><td class="m wrap">{{ $change->kind === 'removed' ? '' :
            mb_strimwidth(\DeepSpring\SourceFile\DocumentChange::shown($change->now), 0, 300, '…', 'UTF-8') }}</td></tr>
    @endforeach
    </tbody></table>
@endif
</div>
@endsection
