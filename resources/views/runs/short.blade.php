@php
    use App\View\Show;
    $over = $run->state->isOver();
@endphp
<div id="run-progress" @unless ($over) hx-get="{{ route('runs.progress', ['run' => $run, 'short' => 1]) }}" hx-trigger="load delay:700ms"
    hx-swap="outerHTML" @endunless>
    <p><span class="tag {{ ['done' => $run->isInDoubt() ? 'o' : 'g', 'failed' => 'i', 'stopped' => 'o'][$run->state->value] ??
        '' }}">{{ $run->isInDoubt() ? 'done, in doubt' : $run->state->label() }}</span>
        {{ Show::count($run->pages, 'page') }}, {{ Show::count($run->records, 'record') }}@if (! $over && $run->total !== null)
            of {{ Show::number($run->total) }}@endif, {{ Show::count($run->rows, 'row') }}{{ $run->state === \App\Models\RunState::Done ? ' kept' :
            '' }}, {{ Show::bytes($run->bytes) }}@if ($run->started_at), {{ Show::duration(abs($run->started_at->diffInMilliseconds($run->ended_at ??
            now()))) }}@endif
        @if (! $over && $run->waits_for)<span class="tag o">waits for {{ $run->waits_for }}</span>@endif
        @if ($run->rejects > 0)<span class="tag i">{{ Show::count($run->rejects, 'reject') }}</span>@endif
        @if ($run->duplicates > 0)<span class="tag o">{{ Show::count($run->duplicates, 'row with a key that was there already',
            'rows with a key that was there already') }}, kept once</span>@endif
    </p>
    @if ($run->ladder)<div class="mt-2">@include('components.ladder', ['ladder' => \App\View\Ladder::of($run->ladder, $run->secondsLeft())])</div>@endif
    @if ($run->diagnosis)<div class="mt-2"><x-diagnosis :of="$run->diagnosis" /></div>@endif
    @if ($run->ended)<p class="s mt-1">{{ $run->ended }}</p>@endif
    @foreach ($run->findings ?? [] as $finding)<p class="{{ $finding['doubt'] ? 'note' : 's' }} mt-1">{{ $finding['sentence'] }}</p>@endforeach
    @if ($over)
        @if ($kept->isNotEmpty() && $run->state === \App\Models\RunState::Done)<p class="mt-1">@foreach ($kept as $table)<a class="m"
            href="{{ route('tables.show', $table->name) }}">{{ $table->name }}</a> <small>{{ Show::count($table->rows, 'row') }}</small> @endforeach</p>@endif
    @else
        <p class="mt-2 flex gap-2"><button type="button" class="btn small" hx-post="{{ route('runs.stop', $run) }}" hx-swap="none"
            @disabled($run->stop_how !== null)>Stop after this page</button> <button type="button" class="btn small"
            hx-post="{{ route('runs.stop', ['run' => $run, 'now' => 1]) }}" hx-swap="none" @disabled($run->stop_how === 'now')>Stop now</button></p>
    @endif
    <p class="mt-1"><a href="{{ route('runs.show', $run) }}">The whole run</a></p>
</div>
