@php
    use App\View\Show;
    $over = $run->state->isOver();
    $left = $run->secondsLeft();
@endphp
<div id="run-progress" @unless ($over) hx-get="{{ route('runs.progress', ['run' => $run, 'level' => $level]) }}" hx-trigger="load delay:700ms"
    hx-swap="outerHTML" @endunless>
    <div class="run-line">
        <x-run.state :run="$run" id="run-state" />
        @if ($run->ended && $run->diagnosis === null)<strong id="run-ended">{{ $run->ended }}</strong>@endif
        @if (! $over && $run->waits_for)<span class="tag o" id="run-waits">waits for {{ $run->waits_for }}</span>@endif
        <span class="ml-auto flex gap-2">
            @if (! $over)
                <x-run.stops :run="$run" />
            @else
                @if ($mayGoOn)<form method="post" action="{{ route('runs.go-on', $run) }}">@csrf<button class="btn small go"
                    id="run-on">Continue from {{ $run->lookup ? 'row' : 'page' }} {{ $run->pages + 1 }}</button></form>@endif
                <form method="post" action="{{ route('runs.again', $run) }}" class="flex items-center gap-2">@csrf<button class="btn small"
                    id="run-again">Run again</button><label class="s whitespace-nowrap"><input type="checkbox" name="every_exchange"
                    value="1"> and keep every exchange</label></form>
            @endif
        </span>
    </div>
    @if ($run->diagnosis)<div class="mt-2"><x-diagnosis :of="$run->diagnosis" /></div>@endif
    @if (($run->diagnosis['code'] ?? '') === 'check')@can('update', $run)<form class="mt-2" method="post"
        action="{{ route('runs.again', $run) }}">@csrf<input type="hidden" name="takes_any" value="1"><button class="btn small"
        id="takes-any">The rows are right: read them again and put them in place</button></form>@endcan @endif
    <x-run.findings :run="$run" />
    @if ($over && ($run->lookup['failed'] ?? 0) > 0 && $run->state === \App\Models\RunState::Done)@can('update', $run)<form class="mt-2" method="post"
        action="{{ route('runs.again', $run) }}">@csrf<input type="hidden" name="failed_rows" value="1"><button class="btn small"
        id="failed-rows">Ask for the {{ Show::count($run->lookup['failed'], 'row').' that failed' }} again</button></form>@endcan @endif
    <dl class="figures">
        @if ($run->lookup)
            <div><dt>rows asked for</dt><dd>{{ Show::number($run->lookup['rows']) }}@if ($run->total !== null && $run->total !== $run->lookup['rows'])<small>
                of {{ Show::number($run->total) }}</small>@endif</dd></div>
            <div><dt>requests</dt><dd>{{ Show::number($run->lookup['asked']) }}</dd></div>
            <div><dt>known already</dt><dd>{{ Show::number($run->lookup['known']) }}</dd></div>
            @foreach (['empty' => 'with nothing', 'without' => 'nothing to ask with'] as $part => $words)@if ($run->lookup[$part] > 0)<div><dt>{{ $words }}</dt>
                <dd>{{ Show::number($run->lookup[$part]) }}</dd></div>@endif @endforeach
            <div><dt>failed</dt><dd @if ($run->lookup['failed'] > 0) class="bad" @endif>{{ Show::number($run->lookup['failed']) }}</dd></div>
            <div><dt>records</dt><dd>{{ Show::number($run->records) }}</dd></div>
        @else
        <div><dt>pages</dt><dd>{{ Show::number($run->pages) }}</dd></div>
        <div><dt>records</dt><dd>{{ Show::number($run->records) }}@if ($run->total !== null && $run->total !== $run->records)<small>
            of {{ Show::number($run->total) }}</small>@endif</dd></div>
        @endif
        <div><dt>{{ $run->state === \App\Models\RunState::Done && ! $run->isTry() ? 'rows kept' : 'rows' }}</dt><dd>{{ Show::number($run->rows) }}</dd></div>
        <div><dt title="values that did not fit their column">rejects</dt><dd @if ($run->rejects > 0) class="bad" @endif>@if ($run->rejects > 0)<a
            href="{{ route('runs.rejects', $run) }}">{{ Show::number($run->rejects) }}</a>@else{{ Show::number(0) }}@endif</dd></div>
        @if ($run->filtered > 0)<div><dt>left out by conditions</dt><dd>{{ Show::number($run->filtered) }}</dd></div>@endif
        <div><dt>keys that came twice</dt><dd>{{ Show::number($run->duplicates) }}</dd></div>
        <div><dt>received</dt><dd>{{ Show::bytes($run->bytes) }}</dd></div>
        <div><dt>sent again</dt><dd>{{ Show::number($run->retries) }}</dd></div>
        <div><dt>waited</dt><dd>{{ Show::duration($run->waited) }}</dd></div>
        <div><dt>records a second</dt><dd>{{ $run->speed() === null ? '—' : Show::number((int) round($run->speed())) }}</dd></div>
        <div><dt>{{ $over ? 'took' : 'so far' }}</dt><dd>{{ $run->started_at ? Show::duration(abs($run->started_at->diffInMilliseconds($run->ended_at
            ?? now()))) : '—' }}</dd></div>
        @if (! $over)<div><dt>probably left</dt><dd>{{ $left === null ? '—' : Show::duration(1000 * $left) }}</dd></div>@endif
        @if ($run->attempt > 1)<div><dt>processes</dt><dd>{{ $run->attempt }}</dd></div>@endif
    </dl>
    @if ($run->ladder)
        <div class="mt-3">@include('components.ladder', ['ladder' => \App\View\Ladder::of($run->ladder, $left, 1100,
            $run->lookup ? 'row' : 'page')])</div>
        <p class="legend"><span class="key page"></span> a page, from sent to received <span class="key wait"></span> waited before it <span
            class="key again"></span> sent again <span class="key failed"></span> failed</p>
    @elseif (! $over)
        <p class="s mt-3">{{ $run->state === \App\Models\RunState::Queued ? 'It waits for a worker.' : 'The first page is on its way.' }}</p>
    @endif
    @if ($run->isTry() && $over)<p class="s mt-2">It was read to see whether it can be; nothing was kept.</p>@endif
    @if ($run->state === \App\Models\RunState::Done && ! $run->isTry())
        @if ($kept->isNotEmpty())<p class="mt-2">Kept in <x-run.kept :tables="$kept" /></p>@endif
    @endif
    @include('runs.checks', ['results' => $results])
    @include('runs.log')
</div>
