@props(['text'])
{{-- Of a kind's declaration, where code stands between grave accents. --}}
@foreach (explode('`', (string) $text) as $number => $part)@if ($number % 2 === 1)<code>{{ $part }}</code>@else{{ $part }}@endif{{ '' }}@endforeach
