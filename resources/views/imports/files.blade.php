@extends('layouts.app')
@section('title', 'Source files')
@section('go', 'take them')
@section('content')
<div class="head"><div><nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a></nav><h1>{{ \App\View\Show::count(count($files),
    'source file') }}</h1></div>
<div class="acts"><form method="post" action="{{ route('imports.apply', $import) }}">@csrf<button class="btn go"
    data-go>Take {{ count($files) === 1 ? 'it' : 'them' }} as drafts <span class="font-normal opacity-80">Ctrl ↵</span></button></form></div></div>
<div class="body">
@foreach ($files as $one)
    <h2 class="mb-1 mt-4">{{ $one['described']->title }} <small>{{ $one['slug'] }}</small> <span
        class="tag {{ $one['there'] ? 'o' : 'g' }}">{{ $one['there'] ? \App\View\Show::count(count($one['changes']), 'change') :
        'new, '.\App\View\Show::count(count($one['described']->endpoints), 'endpoint') }}</span></h2>
    @if ($one['there'] && $one['changes'] !== [])
        <table class="rows"><thead><tr><th>Where</th><th></th><th>is</th><th>becomes</th></tr></thead><tbody>
        @foreach (array_slice($one['changes'], 0, 100) as $change)<tr><td class="wrap">{{ implode(' › ', $change->place()) }}</td>
            <td><span class="tag {{ ['added' => 'g', 'removed' => 'i', 'changed' => 'o'][$change->kind] }}">{{ $change->kind }}</span></td>
            <td class="m wrap">{{ $change->kind === 'added' ? '' : mb_strimwidth(\DeepSpring\SourceFile\DocumentChange::shown($change->was), 0, 160,
            '…', 'UTF-8') }}</td>
            <td class="m wrap">{{ $change->kind === 'removed' ? '' : mb_strimwidth(\DeepSpring\SourceFile\DocumentChange::shown($change->now), 0, 160,
            '…', 'UTF-8') }}</td></tr>@endforeach
        </tbody></table>
    @elseif ($one['there'])
        <p class="s">It is the same as the source.</p>
    @endif
@endforeach
</div>
@endsection
