@if ($sheet->run)
    @include('runs.progress', ['run' => $sheet->run])
    @if ($sheet->run->state->isOver())<p class="mt-1"><a href="{{ route('runs.show', $sheet->run) }}">The whole run</a></p>@endif
@else
    <p class="s">When kept, anyone with the table can query it, and a refresh that fails leaves the last good rows in place.</p>
@endif
