@php($failed = $sheet->failedAt() === 'ask')
@php($isTried = $sheet->first && $sheet->askIsTried() && $sheet->ask->cannot === null)
<div id="happened-ask-preview">@unless ($isTried)@include('endpoints.parts.preview', ['ask' => $sheet->ask, 'note' =>
    'This is how it would leave. Nothing was sent '.($sheet->try ? 'since the last change.' : 'yet.')])@endunless</div>
@if ($failed && $sheet->askIsTried() && ! ($sheet->ask->cannot && $sheet->first === null))
    <x-diagnosis :of="$sheet->try->diagnosis" :try="$sheet->try" />
    @if (($sheet->try->diagnosis['where'] ?? '') === 'access' || ($sheet->try->diagnosis['where'] ?? '') === 'address')<p class="mb-2"><a
        href="{{ route('sources.show', $source) }}">Open {{ ($sheet->try->diagnosis['where'] ?? '') === 'access' ? 'Authentication' :
        'the address' }}</a></p>@endif
@endif
@if ($sheet->try && $sheet->askIsTried())<x-tokens :of="$sheet->try->tokenExchanges()->get()" />@endif
@if ($isTried)
    @php($carried = $sheet->first->carried())
    <pre class="ev">{{ trim($sheet->first->request) }}@if ($carried !== '')


{{ mb_strimwidth(\App\Evidence\EvidenceWriter::readable($carried), 0, 6000, '…', 'UTF-8') }}@endif</pre>
    <p class="mt-2">
        @if ($sheet->first->status !== null)<span class="tag {{ $failed ? 'i' : 'g' }}">{{ $sheet->first->status }}</span>
            <small>{{ \App\View\Show::duration($sheet->first->timing['firstByte'] ??
            0) }} to first byte · {{ \App\View\Show::bytes($sheet->first->bytes) }}@if (($sheet->first->timing['address'] ?? '') !== '')
            · from {{ $sheet->first->timing['address'] }}@endif</small>
            <a class="ml-2" href="{{ route('tries.show', $sheet->try) }}">All of it</a> <a class="ml-2"
                href="{{ route('tries.raw', [$sheet->try, 1]) }}">Raw body</a>
        @else<span class="tag i">no answer</span> <a class="ml-2" href="{{ route('tries.show', $sheet->try) }}">All of it</a>@endif
    </p>
    @if ($sheet->first->headers !== '')<details class="mt-1"><summary class="s">Headers of the answer</summary><pre
        class="ev mt-1">{{ trim($sheet->first->headers) }}</pre></details>@endif
    @if ($sheet->first->error)<details class="mt-1" open><summary class="s">The raw error</summary><pre
        class="ev mt-1">{{ $sheet->first->error }}</pre></details>@endif
@endif
