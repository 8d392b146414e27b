@if ($ask->cannot)
    <div class="note"><strong>{{ $ask->cannot->what }}</strong> {{ $ask->cannot->advice }}</div>
@elseif ($ask->text !== '')
    <pre class="ev">{{ mb_strimwidth($ask->text, 0, 20000, '…', 'UTF-8') }}</pre>
    <p class="s mt-2">{{ $note }}</p>
@endif
