@php($width = \App\View\Timetable::WIDTH)
<svg class="strip" viewBox="0 0 {{ $width }} 14" width="{{ $width }}" height="14" aria-hidden="true">
    @foreach ($picture->ticks() as $tick)<text x="{{ $tick['x'] + 2 }}" y="11">{{ $tick['text'] }}</text>@endforeach
</svg>
