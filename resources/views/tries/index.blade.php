@extends('layouts.app')
@section('title', 'Tries')
@section('content')
<div class="head"><div>
    <nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a> › <a href="{{ route('sources.show', $source) }}">{{ $source->name }}</a> ›
        <a href="{{ route('endpoints.show', [$source, $endpoint]) }}">{{ $endpoint->name }}</a></nav>
    <h1>Tries</h1>
</div></div>
<div class="body">
@if ($tries->isEmpty())
    <div class="empty"><p
        class="mb-2">It was not tried yet. Every try is kept here with what was sent and what came back, the last fifty of each environment.</p><a
        class="btn" href="{{ route('endpoints.show', [$source, $endpoint]) }}">Open the sheet and try it</a></div>
@else
    <form method="get" action="{{ route('tries.compare', [$source, $endpoint]) }}">
    <table class="rows"><thead><tr><th>one</th><th>other</th><th>When</th><th>Environment</th><th>Request</th><th>Status</th><th class="n">took</th>
        <th class="n">bytes</th><th class="n">records</th><th>What came of it</th></tr></thead><tbody>
    @foreach ($tries as $number => $try)
        @php($first = $try->exchanges->first())
        <tr>
            <td><input type="radio" name="a" value="{{ $try->id }}" aria-label="compare the try of {{ \App\View\Show::clock($try->created_at) }}"
                @checked($number === min(1, $tries->count() - 1))></td>
            <td><input type="radio" name="b" value="{{ $try->id }}" aria-label="with the try of {{ \App\View\Show::clock($try->created_at) }}"
                @checked($number === 0)></td>
            <td><a href="{{ route('tries.show', $try) }}"><x-moment :at="$try->created_at" /></a></td>
            <td>{{ $environmentNames[$try->environment_id] ?? '' }}</td>
            <td class="m" title="{{ strtok($first->request ?? '', "\n") }}">{{ mb_strimwidth((string) preg_replace('/ HTTP\/[\d.]+$/', '',
                strtok($first->request ?? 'nothing was sent', "\n") ?: ''), 0, 60, '…') }}</td>
            <td>@if ($first?->status !== null)<span class="tag {{ $try->succeeded ? 'g' : 'i' }}">{{ $first->status }}</span>@else<span
                class="tag i">no answer</span>@endif</td>
            <td class="n">{{ \App\View\Show::duration($try->milliseconds) }}</td>
                <td class="n">{{ $first === null ? '—' : \App\View\Show::bytes($first->bytes) }}</td>
                <td class="n">{{ \App\View\Show::number($try->records) }}</td>
            <td>{{ $try->succeeded ? mb_strimwidth($try->ended ?? 'It answers.', 0, 60, '…') : mb_strimwidth($try->diagnosis['what'] ?? '', 0, 60, '…') }}</td>
        </tr>
    @endforeach
    </tbody></table>
    <p class="mt-3"><button class="btn" @disabled($tries->count() < 2)>Compare the two</button></p>
    </form>
    <x-pages :of="$tries" />
@endif
</div>
@endsection
