@php($width = \App\View\Timetable::WIDTH)
<svg class="strip" viewBox="0 0 {{ $width }} 30" width="{{ $width }}" height="30" role="img"
    aria-label="How many refreshes there are over the day or week: {{ $picture->summary() }}">
    @foreach ($picture->load as $column)<rect x="{{ $column['x'] }}" y="{{ 30 - 28 * $column['h'] }}" width="3" height="{{ 28 * $column['h'] }}"
        class="{{ $column['isCrowded'] ? 'crowded' : 'load' }}" />@endforeach
    @if ($picture->nowX() !== null)<line x1="{{ $picture->nowX() }}" x2="{{ $picture->nowX() }}" y1="0" y2="30" class="now" />@endif
</svg>
