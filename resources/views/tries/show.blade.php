@extends('layouts.app')
@section('title', 'A try')
@section('content')
@php($try = $page->try)
<div class="head"><div>
    <nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a> › <a
        href="{{ route('sources.show', $page->source) }}">{{ $page->source->name }}</a>@if ($page->endpoint) › <a
        href="{{ route('endpoints.show', [$page->source, $page->endpoint]) }}">{{ $page->endpoint->name }}</a> › <a
        href="{{ route('endpoints.tries', [$page->source, $page->endpoint]) }}">Tries</a>@endif</nav>
    <h1><x-moment :at="$try->created_at" /> <span class="tag {{ $try->succeeded ? 'g' : 'i' }}">{{ $try->succeeded ? 'proven' :
        'failed' }}</span></h1>
</div>
<div class="acts">
    @if ($page->endpoint && $page->before)<a class="btn" href="{{ route('tries.compare', [$page->source, $page->endpoint, 'a' => $page->before->id,
        'b' => $try->id]) }}">Compare with the one before</a>@endif
    @if ($try->exchanges->isNotEmpty())<a class="btn" href="{{ route('tries.har', $try) }}">HAR file</a>@endif
</div></div>
<div class="body">
    <p class="mb-2">{{ $page->who->name ??
        'The command line' }}, in {{ $page->environment->name }}: {{ \App\View\Show::count($try->exchanges->count(),
        'request') }}, {{ \App\View\Show::duration($try->milliseconds) }}, {{ \App\View\Show::count($try->records, 'record') }}. {{ $try->ended }}</p>
    @if ($try->diagnosis)<x-diagnosis :of="$try->diagnosis" />@endif
    <x-tokens :of="$try->tokenExchanges()->get()" />
    @foreach ($try->exchanges as $exchange)
    @php($t = $exchange->timing)
    @php($carried = $exchange->carried())
    <details class="exchange" @if ($loop->first) open @endif><summary><h2 class="inline">{{ $try->exchanges->count() > 1 ?
        'Request '.$exchange->number : 'The request' }}</h2> <span class="m">{{ mb_strimwidth(strtok($exchange->request, "\n") ?: '', 0, 100,
        '…') }}</span> @if ($exchange->status !== null)<span class="tag {{ $exchange->status < 400 ? 'g' :
        'i' }}">{{ $exchange->status }}</span>@else<span class="tag i">no answer</span>@endif</summary>
    <div class="grid grid-cols-[492px_minmax(0,1fr)] gap-10 pb-6 pt-2">
        <section aria-label="What was sent" class="min-w-0">
            <h3 class="mb-1">Sent</h3>
            <pre class="ev">{{ trim($exchange->request) }}@if ($carried !== '')


{{ mb_strimwidth(\App\Evidence\EvidenceWriter::readable($carried), 0, 20000, '…', 'UTF-8') }}@endif</pre>
            <p class="mt-2"><button type="button" class="btn small" data-copy="{{ $page->curl($exchange) }}">Copy the cURL command</button>
                <small>secrets become variables of the shell</small></p>
            <h3 class="mb-1 mt-4">How long</h3>
            <svg width="492" height="{{ 18 * count(\App\View\EvidencePage::phases($exchange)) + 4 }}" role="img" aria-label="Phases of the request">
                @foreach (\App\View\EvidencePage::phases($exchange) as $row => $phase)
                    <text x="0" y="{{ 18 * $row + 13 }}" font-size="12" fill="#626860">{{ $phase['name'] }}</text>
                    <rect x="{{ 96 + 3.1 * $phase['x'] }}" y="{{ 18 * $row + 4 }}" width="{{ max(1.5, 3.1 * min($phase['width'], 100 -
                        $phase['x'])) }}" height="11" rx="2" fill="{{ $phase['name'] === 'first byte' ? '#176b74' : '#7fb3ad' }}"/>
                    <text class="m" x="490" y="{{ 18 * $row + 13 }}" font-size="12" text-anchor="end"
                        fill="#12282b">{{ \App\View\Show::duration($phase['ms']) }}</text>
                @endforeach
            </svg>
            <table class="rows mt-2 !w-auto"><tbody>
                <tr><td>address</td><td class="m">{{ ($t['address'] ?? '') ?: '—' }}</td></tr>
                <tr><td>protocol</td><td class="m">{{ ($t['protocol'] ?? '') ?: '—' }}{{ ($t['tlsVersion'] ?? '') !== '' ? ', '.$t['tlsVersion'] :
                    (isset($t['certificate']) ? '' : ', without TLS') }}</td></tr>
                @if (isset($t['certificate']))<tr><td>certificate</td>
                    <td>{{ $t['certificate']['subject'] }}, by {{ $t['certificate']['issuer'] }}, until {{ gmdate('Y-m-d',
                    $t['certificate']['until']) }}</td></tr>@endif
                <tr><td>body sent</td><td class="m">{{ \App\View\Show::bytes((int) ($t['bytesSent'] ?? 0)) }}</td></tr>
                <tr><td>body received</td><td class="m">{{ \App\View\Show::bytes((int) ($t['bytesReceived'] ?? 0)) }}{{ $exchange->bytes !== (int)
                    ($t['bytesReceived'] ?? 0) ? ', '.\App\View\Show::bytes($exchange->bytes).' after decompression' : '' }}</td></tr>
                <tr><td>sent</td><td>{{ ($t['attempts'] ?? 1) > 1 ? $t['attempts'].' times, waiting '.\App\View\Show::duration($t['waited'] ??
                    0).' between' : 'once' }}</td></tr>
                @foreach ($t['hops'] ?? [] as $hop)<tr><td>redirected</td><td class="m wrap">{{ $hop['status'] }} → {{ $hop['to'] }}</td></tr>@endforeach
            </tbody></table>
        </section>
        <section aria-label="What came back" class="min-w-0">
            <h3 class="mb-1">Came back</h3>
            @if ($exchange->error)<pre class="ev mb-2">{{ $exchange->error }}</pre>@endif
            @if ($exchange->headers !== '')<details class="mb-2"><summary class="s">{{ \App\View\Show::count(substr_count(trim($exchange->headers),
                "\n") + 1, 'header') }}</summary><pre class="ev mt-1">{{ trim($exchange->headers) }}</pre></details>@endif
            @php($tree = $page->tree($exchange))
            @if ($tree)
                <div class="tree ev tall" tabindex="0" role="region" aria-label="The answer as a tree">{{ $tree }}</div><div id="node-acts" role="status"></div>
            @elseif ($exchange->text() === null)
                <p class="s">The body of this answer is no longer kept.</p>
            @elseif ($exchange->bytes === 0)
                <p class="s">The answer has no body.</p>
            @else
                <pre class="ev tall">{{ mb_strimwidth(mb_scrub($exchange->text(), 'UTF-8'), 0, 4000, '…', 'UTF-8') }}</pre>
            @endif
            @if ($exchange->bytes > 0)<p class="mt-1"><a href="{{ route('tries.raw', [$try, $exchange->number]) }}">As text, with search</a> · <a
                href="{{ route('tries.body', [$try, $exchange->number]) }}" target="_blank">Raw</a></p>@endif
            @php($table = $loop->first ? $page->table($exchange) : null)
            @if ($table)
                <details class="mt-3"><summary class="s">As a table, {{ \App\View\Show::count(count($table[1]), 'record') }}</summary>
                <div class="scroll mt-1" tabindex="0" role="region" aria-label="The records as a table"><table class="rows"><thead>
                    <tr>@foreach ($table[0] as $name)<th>{{ $name }}</th>@endforeach</tr></thead><tbody>
                @foreach ($table[1] as $row)<tr>@foreach ($row as $value)<td class="m">{{ $value === null ? '—' : mb_strimwidth(is_string($value) ?
                    $value : (string) json_encode($value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES), 0, 60, '…',
                    'UTF-8') }}</td>@endforeach</tr>@endforeach
                </tbody></table></div></details>
            @endif
        </section>
    </div></details>
    @endforeach
    @if ($try->exchanges->isEmpty())<p class="s">Nothing was sent.</p>@endif
</div>
@endsection
