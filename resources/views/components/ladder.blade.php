<svg class="ladder" viewBox="0 0 {{ $ladder->width }} {{ $ladder->height }}" width="{{ $ladder->width }}" height="{{ $ladder->height }}" role="img"
    aria-label="{{ $ladder->summary() }}">
    @foreach ($ladder->ticks as $tick)<line x1="{{ $tick['x'] }}" x2="{{ $tick['x'] }}" y1="0" y2="{{ $ladder->height - 16 }}" class="tick" /><text
        x="{{ $tick['x'] + 2 }}" y="{{ $ladder->height - 4 }}" class="axis">{{ $tick['text'] }}</text>@endforeach
    @if ($ladder->endX !== null)<line x1="{{ $ladder->endX }}" x2="{{ $ladder->endX }}" y1="0" y2="{{ $ladder->height - 16 }}" class="expected"
        /><text x="{{ $ladder->endX + 3 }}" y="10" class="axis">{{ $ladder->endText }}</text>@endif
    @foreach ($ladder->bars as $bar)
        @if ($bar['wait'] > 0)<rect x="{{ $bar['waitX'] }}" y="{{ $bar['y'] }}" width="{{ $bar['wait'] }}" height="{{ $bar['h'] }}" rx="1.5"
            class="wait" />@endif
        <rect x="{{ $bar['x'] }}" y="{{ $bar['y'] }}" width="{{ $bar['w'] }}" height="{{ $bar['h'] }}" rx="1.5"
            class="{{ $bar['failed'] ? 'failed' : 'page' }}"><title>{{ $bar['says'] }}</title></rect>
        @if ($bar['again'])<path d="M{{ $bar['x'] }} {{ $bar['y'] }}v{{ $bar['h'] }}" class="again" />@endif
    @endforeach
    @foreach ($ladder->words as $word)<text x="{{ $word['x'] }}" y="{{ $word['y'] }}" @if ($word['before']) text-anchor="end" @endif
        class="{{ $word['failed'] ? 'bad' : '' }}">{{ $word['text'] }}</text>@endforeach
</svg>
