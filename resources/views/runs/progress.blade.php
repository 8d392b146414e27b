<div id="run-progress" @unless ($run->state->isOver()) hx-get="{{ route('runs.progress', $run) }}" hx-trigger="load delay:600ms" hx-swap="outerHTML" @endunless>
    <p><span class="tag {{ ['done' => 'g', 'failed' => 'i', 'stopped' => 'o'][$run->state->value] ?? '' }}">{{ $run->state->word() }}</span>
        {{ \App\View\Show::count($run->pages, 'page') }}, {{ \App\View\Show::count($run->records, 'record') }}, {{ \App\View\Show::count($run->rows, 'row') }} kept, {{ \App\View\Show::bytes($run->bytes) }}@if ($run->started_at), {{ \App\View\Show::duration(abs($run->started_at->diffInMilliseconds($run->ended_at ?? now()))) }}@endif
        @if ($run->rejects > 0)<span class="tag i">{{ \App\View\Show::count($run->rejects, 'value did not fit', 'values did not fit') }}</span>@endif
        @if ($run->duplicates > 0)<span class="tag o">{{ \App\View\Show::count($run->duplicates, 'row with a key that was there already', 'rows with a key that was there already') }}, kept once</span>@endif
    </p>
    @if ($run->ladder)<div class="mt-2">@include('components.ladder', ['ladder' => \App\View\Ladder::of($run->ladder)])</div>@endif
    @if ($run->diagnosis)<div class="mt-2"><x-diagnosis :of="$run->diagnosis" /></div>@endif
    @if ($run->ended)<p class="s mt-1">{{ $run->ended }}</p>@endif
    @if ($run->state->isOver())
        @php($tables = \App\Models\KeptTable::query()->where('run_id', $run->id)->orderBy('id')->get())
        @if ($tables->isNotEmpty())<p class="mt-1">@foreach ($tables as $table)<a class="m" href="{{ route('tables.show', $table->name) }}">{{ $table->name }}</a> <small>{{ \App\View\Show::count($table->rows, 'row') }}</small> @endforeach</p>@endif
    @else
        <button type="button" class="btn small mt-2" hx-post="{{ route('runs.stop', $run) }}" hx-swap="none">Stop after this page</button>
    @endif
</div>
