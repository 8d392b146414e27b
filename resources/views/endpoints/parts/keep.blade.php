@unless ($sheet->definition->does()->writes())
    <p class="mb-2 text-sm" id="read-with">Read with: <strong>{{ $sheet->keep()->readWith() }}</strong></p>
    @if ($sheet->refresh()->increment() !== null)<p class="mb-2 text-sm wrap-anywhere" id="read-how">Only what changed:
        <strong>{{ $sheet->refresh()->increment()[0] }}</strong><br><span class="s">{{ $sheet->refresh()->increment()[1] }}</span></p>@endif
    <p class="mb-2 text-sm wrap-anywhere" id="read-when">Refreshed: <strong>{{ $sheet->refresh()->words() }}</strong>
        @if ($sheet->refresh()->next() !== [])<br><span
        class="s">next {{ implode(', ', $sheet->refresh()->next()) }}</span>@endif</p>
    <p class="mb-2 text-sm" id="read-checked">Checked: {{ implode('; ', array_slice($sheet->keep()->checks(), 0, 4)) }}{{
        count($sheet->keep()->checks()) > 4 ? '; and '.(count($sheet->keep()->checks()) - 4).' more' : '' }}.
        <a href="{{ route('endpoints.checks', [$source, $sheet->row]) }}" id="open-checks">{{ count($sheet->keep()->checks()) > 1 ?
        'See and change them' : 'Add rules' }}</a></p>
@endunless
@if ($sheet->row->inputs_taken_over)
    <form class="notice mb-2" method="post" action="{{ route('endpoints.inputs-seen', [$source, $sheet->row]) }}">
        @csrf
        <p>This table was read with the test values until now.
            They stand under Keep from now on, so the table stays as it is. Clear a field there to read all of it.</p>
        <button class="btn small mt-1">Understood</button>
    </form>
@endif
@if ($sheet->run)
    @include('runs.short', ['run' => $sheet->run, 'kept' => $sheet->kept()])
@else
    <p class="s">When kept, anyone with the table can query it, and a refresh that fails leaves the last good rows in place.</p>
@endif
