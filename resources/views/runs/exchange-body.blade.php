<pre class="ev">{{ trim($exchange->request) }}@if ($exchange->carried() !== '')


{{ mb_strimwidth(\App\Evidence\EvidenceWriter::readable($exchange->carried()), 0, 3000, '…', 'UTF-8') }}@endif</pre>
<pre class="ev tall mt-2">@if ($exchange->status){{ $exchange->status }}
@endif{{ trim($exchange->headers) }}{{ $exchange->error }}

{{ mb_strimwidth(mb_scrub((string) $exchange->text(), 'UTF-8'), 0, 3000, '…', 'UTF-8') }}</pre>
