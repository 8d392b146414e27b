@props(['to', 'label', 'of', 'method' => 'post'])
<form class="inline" method="post" action="{{ $to }}">
    @csrf
    @if ($method !== 'post') @method($method) @endif
    <button class="link" aria-label="{{ $label }} {{ $of }}">{{ $label }}</button>
</form>
