@php
    use App\View\Show;
    $over = $run->state->isOver();
@endphp
<div id="run-progress" @unless ($over) hx-get="{{ route('runs.progress', ['run' => $run, 'short' => 1]) }}" hx-trigger="load delay:700ms"
    hx-swap="outerHTML" @endunless>
    <p><x-run.state :run="$run" />
        @if ($run->lookup){{ Show::number($run->lookup['rows']) }} of {{ Show::count($run->total ?? $run->lookup['rows'], 'row') }} asked for,
            {{ Show::count($run->records, 'record') }}@else
        {{ Show::count($run->pages, 'page') }}, {{ Show::count($run->records, 'record') }}@if (! $over && $run->total !== null)
            of {{ Show::number($run->total) }}@endif @endif, {{ Show::count($run->rows, 'row') }}{{ $run->state === \App\Models\RunState::Done ? ' kept' :
            '' }}, {{ Show::bytes($run->bytes) }}@if ($run->started_at), {{ Show::duration(abs($run->started_at->diffInMilliseconds($run->ended_at ??
            now()))) }}@endif
        @if (! $over && $run->waits_for)<span class="tag o">waits for {{ $run->waits_for }}</span>@endif
        @if ($run->rejects > 0)<span class="tag i" title="values that did not fit their column">{{ Show::count($run->rejects, 'reject') }}</span>@endif
        @if ($run->duplicates > 0)<span class="tag o">{{ Show::count($run->duplicates, 'row with a key that was there already',
            'rows with a key that was there already') }}, kept once</span>@endif
    </p>
    @if ($run->ladder)<div class="mt-2">@include('components.ladder', ['ladder' => \App\View\Ladder::of($run->ladder,
        $run->secondsLeft(), unit: $run->lookup ? 'row' : 'page')])</div>@endif
    @if ($run->diagnosis)<div class="mt-2"><x-diagnosis :of="$run->diagnosis" /></div>@endif
    @if ($run->ended)<p class="s mt-1">{{ $run->ended }}</p>@endif
    <x-run.findings :run="$run" />
    @if ($over)
        @if ($kept->isNotEmpty() && $run->state === \App\Models\RunState::Done)<p class="mt-1"><x-run.kept :tables="$kept" /></p>@endif
    @else
        <p class="mt-2 flex gap-2"><x-run.stops :run="$run" /></p>
    @endif
    <p class="mt-1"><a href="{{ route('runs.show', $run) }}">The whole run</a></p>
</div>
