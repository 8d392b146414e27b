@use('App\View\Show')
@if (isset($failed))<span class="fault" title="{{ $failed['what'] }} {{ $failed['advice'] }}" role="alert">{{ mb_strimwidth($failed['what'], 0, 80,
    '…') }}</span>@else<span title="{{ $look->readable() }}, {{ Show::duration($look->milliseconds) }}">{{ Show::number($look->count) }}</span>@endif
