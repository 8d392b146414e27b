@if ($sheet->failedAt() === 'onward')
    <x-diagnosis :of="$sheet->try->diagnosis" :try="$sheet->try" />
@endif
@php($ladder = $sheet->ladder())
@if ($ladder)
    @include('components.ladder', ['ladder' => $ladder])
    @if ($sheet->try->ended)<p class="s mt-1">{{ $sheet->try->ended }}</p>@endif
    @if (($sheet->endpoint['onward']['style'] ?? 'none') === 'none' && $sheet->try->succeeded && count($sheet->records) >= 10)<p class="s mt-1">{{ count($sheet->records) }} records came. If the documentation says there are more, set how to get the rest.</p>@endif
@else
    <p class="s">Each page will be a bar in time.</p>
@endif
