<p class="mb-3"><span class="tag {{ $need['state'] }}">{{ $need['tag'] }}</span>
    <strong>{{ $need['title'] }}</strong><br><small>{{ $need['text'] }}</small>@if ($need['url'])<br><a
    href="{{ $need['url'] }}">{{ $need['link'] }}</a>@endif</p>
