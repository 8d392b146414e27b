@props(['state', 'stratum', 'number', 'oob' => false])
@php($text = ['ok' => 'proven', 'bad' => 'failed', 'no' => 'not tried since the last change'][$state] ?? '')
<span class="node {{ $state }}" id="node-{{ $stratum }}" @if ($oob) hx-swap-oob="true" @endif
    @if ($text !== '') title="{{ $text }}" @endif>{{ $number }}<span class="visually-hidden"> {{ $text }}</span></span>
