@php($node = $sheet->node($stratum))
<span class="node {{ $node }}" id="node-{{ $stratum }}" @if ($oob ?? false) hx-swap-oob="true" @endif title="{{ ['ok' => 'proven', 'bad' => 'failed',
    'no' => 'not tried since the last change'][$node] }}">{{ $number }}<span class="visually-hidden"> {{ ['ok' => 'proven', 'bad' => 'failed', 'no' =>
    'not tried since the last change'][$node] }}</span></span>
