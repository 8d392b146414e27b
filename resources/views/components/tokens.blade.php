@props(['of'])
@foreach ($of as $one)
    <details class="mt-1"><summary class="s">{{ $one->purpose === 'refused' ? 'Refused, and sent once more with a new token' :
        'Asked for a token' }}: {{ strtok($one->request, "\n") }} → {{ $one->status ??
        'no answer' }}, {{ \App\View\Show::duration($one->timing['total'] ?? 0) }}</summary><pre class="ev mt-1">{{ trim($one->request) }}</pre><pre
        class="ev mt-1">{{ $one->status }}
{{ trim($one->headers) }}

{{ mb_strimwidth(mb_scrub((string) $one->text()), 0, 2000, '…') }}</pre></details>
@endforeach
