@if ($sheet->run)
    @include('runs.short', ['run' => $sheet->run])
@else
    <p class="s">When kept, anyone with the table can query it, and a refresh that fails leaves the last good rows in place.</p>
@endif
