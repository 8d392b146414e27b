@php($most = max(1, ...array_map(fn (array $day) => $day['answered'] + $day['refused'], $days)))
<svg class="mb-2 block w-full max-w-[560px]" viewBox="0 0 560 96" role="img" aria-label="Requests a day: {{ implode(', ', array_map(fn (array $day) =>
    $day['day']->format('D').' '.($day['answered'] + $day['refused']), $days)) }}">
@foreach ($days as $number => $day)
    @php($height = fn (int $count) => $count === 0 ? 0 : max(2, (int) round(60 * $count / $most)))
    @php($x = 8 + $number * 78)
    <rect x="{{ $x }}" y="{{ 72 - $height($day['answered']) - $height($day['refused']) }}" width="56" height="{{ $height($day['refused']) }}"
        fill="var(--color-iron)"/>
    <rect x="{{ $x }}" y="{{ 72 - $height($day['answered']) }}" width="56" height="{{ $height($day['answered']) }}" fill="var(--color-water)"/>
    <text x="{{ $x + 28 }}" y="88" text-anchor="middle" font-size="12"
        fill="currentColor">{{ $day['day']->format('D') }} {{ \App\View\Show::number($day['answered'] + $day['refused']) }}</text>
@endforeach
</svg>
