@props(['of'])
<div class="diagnosis" role="alert">
    <strong>{{ $of['what'] }}</strong> {{ $of['advice'] }}
</div>
