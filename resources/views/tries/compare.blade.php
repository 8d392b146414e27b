@extends('layouts.app')
@section('title', 'Compare two tries')
@section('content')
@php($c = $comparison)
@php($short = fn ($value) => $value === null ? '—' : mb_strimwidth(is_string($value) ? $value : (string) json_encode($value, JSON_UNESCAPED_UNICODE |
    JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION | JSON_INVALID_UTF8_SUBSTITUTE), 0, 160, '…', 'UTF-8'))
<div class="head"><div>
    <nav class="crumbs"><a href="{{ route('sources.show', $source) }}">{{ $source->name }}</a> › <a
        href="{{ route('endpoints.show', [$source, $endpoint]) }}">{{ $endpoint->name }}</a> › <a
        href="{{ route('endpoints.tries', [$source, $endpoint]) }}">Tries</a></nav>
    <h1>Two tries</h1>
</div></div>
<div class="body">
    <table class="rows mb-6"><thead><tr><th class="w-56"></th>
        @foreach ([$c->left, $c->right] as $try)<th><a href="{{ route('tries.show', $try) }}"><x-moment :at="$try->created_at" /></a>
            in {{ $environmentNames[$try->environment_id] ?? '' }} <span class="tag {{ $try->succeeded ? 'g' : 'i' }}">{{ $try->succeeded ? 'proven' :
            'failed' }}</span></th>@endforeach</tr></thead><tbody>
    @foreach ($c->facts as [$name, $left, $right])
        <tr @class(['differs' => $left !== $right])><td>{{ $name }}@if ($left !== $right) <span class="tag o">differs</span>@endif</td>
            <td class="m wrap">{{ $short($left) }}</td><td class="m wrap">{{ $short($right) }}</td></tr>
    @endforeach
    </tbody></table>
    <h2 class="mb-1">Headers of the answer</h2>
    @php($odd = array_filter($c->headers, fn ($row) => $row[1] !== $row[2]))
    @if ($c->headers === [])<p class="s mb-4">None on either side.</p>
    @else
    <details class="mb-6" @if ($odd !== []) open @endif><summary class="s">{{ $odd === [] ? 'all '.count($c->headers).' are the same' :
        count($odd).' of '.count($c->headers).' differ' }}</summary>
    <table class="rows mt-1"><tbody>@foreach ($c->headers as [$name, $left, $right])<tr><td class="w-56">{{ $name }}@if ($left !== $right) <span
        class="tag o">differs</span>@endif</td><td class="m wrap">{{ $short($left) }}</td><td class="m wrap">{{ $short($right) }}</td>
        </tr>@endforeach</tbody></table></details>
    @endif
    <h2 class="mb-1">Body of the answer</h2>
    @if ($c->why)<p class="s mb-1">{{ $c->why }}</p>@endif
    @if ($c->changes === [] && ($c->why === null || str_contains($c->why, 'beginnings')))<p><span class="tag g">the same</span> no path differs.</p>
    @elseif ($c->changes !== [])
        <p class="mb-1">{{ \App\View\Show::count($c->count, 'path differs', 'paths differ') }}: {{ collect($c->changes)->countBy('kind')->map(fn ($n,
            $kind) => "$n $kind")->join(', ') }}</p>
        <table class="rows"><thead><tr><th>Path</th><th></th><th>was</th><th>is</th></tr></thead><tbody>
        @foreach ($c->changes as $change)<tr><td class="m wrap">{{ $change['path'] }}</td>
            <td><span class="tag {{ ['added' => 'g', 'removed' => 'i', 'changed' => 'o'][$change['kind']] }}">{{ $change['kind'] }}</span></td>
            <td class="m wrap">{{ $change['kind'] === 'added' ? '' : $short($change['was'] ?? 'null') }}</td>
            <td class="m wrap">{{ $change['kind'] === 'removed' ? '' : $short($change['now'] ?? 'null') }}</td></tr>@endforeach
        </tbody></table>
    @endif
</div>
@endsection
