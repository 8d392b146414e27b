@php($width = \App\View\Timetable::WIDTH)
<svg class="strip" viewBox="0 0 {{ $width }} 16" width="{{ $width }}" height="16" role="img"
    aria-label="{{ collect($bars)->take(12)->pluck('says')->join('; ') ?: 'nothing in this span' }}">
    @foreach ($picture->ticks() as $tick)<line x1="{{ $tick['x'] }}" x2="{{ $tick['x'] }}" y1="0" y2="16" class="tick" />@endforeach
    @foreach ($bars as $bar)<rect x="{{ $bar['x'] }}" y="{{ $bar['kind'] === 'planned' ? 3.5 : 3 }}" width="{{ $bar['w'] }}"
        height="{{ $bar['kind'] === 'planned' ? 9 : 10 }}" class="{{ $bar['kind'] }}"><title>{{ $bar['says'] }}</title></rect>@endforeach
    @if ($picture->nowX() !== null)<line x1="{{ $picture->nowX() }}" x2="{{ $picture->nowX() }}" y1="0" y2="16" class="now" />@endif
</svg>
