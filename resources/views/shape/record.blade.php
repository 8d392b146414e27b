<div id="record"><h2 class="mt-3">Record {{ $number + 1 }} <small class="font-normal"><button type="button" class="link"
    data-clear="record">close</button></small></h2>
<pre class="ev tall" tabindex="0">{{ mb_strimwidth((string) json_encode($record, JSON_PRETTY_PRINT | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES |
    JSON_PRESERVE_ZERO_FRACTION | JSON_INVALID_UTF8_SUBSTITUTE), 0, 20000, '…') }}</pre></div>
