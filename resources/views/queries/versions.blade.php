@extends('layouts.app')
@section('title', "Versions of $query->name")
@section('content')
<div class="head">
    <div><nav class="crumbs"><a href="{{ route('queries.index') }}">Queries</a> › <a href="{{ route('queries.show', $query) }}">{{ $query->name }}</a></nav>
        <h1>Versions</h1></div>
</div>
<div class="body">
    @if ($a !== null && $b !== null)
        <h2 class="mb-1">From version {{ $a->number }} to {{ $b->number }}</h2>
        <div class="scroll mb-5" tabindex="0" role="region" aria-label="What changed"><table class="rows max-w-[900px]"><tbody>
        @foreach ($lines as [$line, $kind])<tr @class(['differs' => $kind !== 'same'])><td class="w-16 s">{{ ['same' => '', 'gone' => 'gone',
            'new' => 'new'][$kind] }}</td><td class="m whitespace-pre">{{ $line }}</td></tr>@endforeach
        </tbody></table></div>
    @elseif ($b !== null)
        <p class="s mb-3">There is one version, so there is nothing to compare.</p>
    @endif
    <table class="rows"><thead><tr><th>Version</th><th>Saved</th><th>By</th><th>SQL</th><th></th></tr></thead><tbody>
    @foreach ($versions as $version)<tr><td>{{ $version->number }}@if ($version->number === $query->version) <span class="tag g">stands</span>@endif</td>
        <td>{{ \App\View\Show::ago($version->created_at) }}</td><td>{{ $version->user?->name ?? '—' }}</td>
        <td class="m dim">{{ mb_strimwidth((string) preg_replace('/\s+/', ' ', $version->sql), 0, 70, '…') }}</td>
        <td class="whitespace-nowrap">@if ($version->number !== $query->version)<a href="{{ route('queries.versions', [$query, 'a' => $version->number,
            'b' => $query->version]) }}" aria-label="Compare version {{ $version->number }} with what stands">compare</a>
            <form class="inline" method="post" action="{{ route('queries.versions.restore', [$query, $version->number]) }}">@csrf<button
            class="link" aria-label="Put version {{ $version->number }} into the editor">into the editor</button></form>@endif</td></tr>@endforeach
    </tbody></table>
    <x-pages :of="$versions" one="version" />
</div>
@endsection
