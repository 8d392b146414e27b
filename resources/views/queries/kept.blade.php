<div class="sheet asking" id="kept">
    <div class="cell last min-w-0">
        <h2 class="mb-1">Read it like a table</h2>
        @error('keep')<p class="diagnosis" role="alert">{{ $message }}</p>@enderror
        @if ($sheet->keep === null && ! $mayChange)
            <p class="s">{{ $query->user->name }} can keep it as a view or a table.</p>
        @elseif ($sheet->keep === null)
            <form method="post" action="{{ route('queries.keep', $query) }}">@csrf
                <p class="s mb-2">Other queries, lookups and everybody here can then read it in {{ $environment->name }} by a name.</p>
                <label for="keep_name">Name</label>
                <input class="f m" id="keep_name" name="keep_name" value="{{ old('keep_name', $sheet->proposedName) }}" required>
                <fieldset class="mt-2"><legend class="visually-hidden">How it is kept</legend>
                    <label class="block"><input type="radio" name="as" value="view" @checked(old('as', 'view') === 'view')> as a <strong>view</strong>:
                        always what is there now, asked anew each time</label>
                    <label class="block"><input type="radio" name="as" value="table" @checked(old('as') === 'table')> as a <strong>table</strong>:
                        rows of its own, quick to read, refreshed</label>
                </fieldset>
                <div class="mt-2 border-l-2 border-seam pl-3" data-when="as=table">
                    <label for="when">The table is refreshed</label>
                    <select class="f" id="when" name="when">
                        <option value="after">whenever a table it reads was refreshed</option>
                        <option value="times" @selected(old('when') === 'times')>at the times of a cron expression</option>
                        <option value="manual" @selected(old('when') === 'manual')>when somebody asks</option>
                    </select>
                    <div data-when="when=times"><label class="mt-1 block" for="every">Cron expression <small>{{ auth()->user()->zone }}</small></label>
                        <input class="f m" id="every" name="every" value="{{ old('every', '0 6 * * *') }}"></div>
                    <label class="mt-1 block" for="key">Key <small>columns that tell rows apart, separated by commas; may be empty</small></label>
                    <input class="f m" id="key" name="key" value="{{ old('key') }}">
                    <details class="mt-1" @if (old('period')) open @endif><summary class="s">Old rows never change</summary>
                        <p class="s">Then a refresh asks only for rows that can have changed since the last one, and leaves the others.</p>
                        <div class="flex gap-2"><label>Told by the column <input class="f m" name="period" value="{{ old('period') }}"
                            placeholder="a day or a moment"></label>
                        <label>which can change back to <input class="f m" name="back" value="{{ old('back', '7 days ago') }}"></label></div></details>
                </div>
                <p class="mt-3"><button class="btn">Keep it</button></p>
            </form>
        @else
            <dl class="pairs text-sm">
                <dt>Name</dt><dd class="m"><a href="{{ $sheet->keep->is_view ? route('queries.create', ['table' => $sheet->keep->name]) :
                    route('tables.show', $sheet->keep->name) }}">{{ $sheet->keep->name }}</a></dd>
                <dt>Kept as</dt><dd>{{ $sheet->keep->is_view ? 'a view, always what is there now' : 'a table, refreshed '.$sheet->when() }}</dd>
                @if ($sheet->keep->period !== null)<dt>Read anew</dt><dd>rows with {{ $sheet->keep->period['column'] }} after {{ $sheet->keep->period['back'] }}, seen from the refresh before</dd>@endif
                @if ($sheet->key() !== [])<dt>Key</dt><dd class="m">{{ implode(', ', $sheet->key()) }}</dd>@endif
                <dt>Reads</dt><dd>@forelse ($sheet->keep->reads as $name)<a class="m" href="{{ route('tables.show', $name) }}">{{ $name }}</a>{{ $loop->last ?
                    '' : ', ' }}@empty no table @endforelse</dd>
                <dt>Read by</dt><dd>@forelse ($sheet->readers as $one)<a
                    href="{{ route('queries.show', $one->query_id) }}">{{ $one->savedQuery->name }}</a>{{ $loop->last ?
                    '' : ', ' }}@empty nothing that is kept @endforelse</dd>
            </dl>
            @if ($mayChange)<div class="mt-3 flex flex-wrap gap-2">
                <form method="post" action="{{ route('outlets.store') }}">@csrf<input type="hidden" name="table" value="{{ $sheet->keep->name }}"><button class="btn"
                    title="Makes a feed of it, which nobody can read until you publish it">Hand it out</button></form>
                @unless ($sheet->keep->is_view)<form method="post"
                    action="{{ route('queries.keep.refresh', $query) }}">@csrf<button class="btn">Refresh now</button>
                    @if ($sheet->keep->period !== null)<button class="btn" name="whole" value="1">Refresh all of it</button>@endif</form>@endunless
                <form method="post" action="{{ route('queries.unkeep', $query) }}">@csrf @method('delete')
                    @error('unkeep')<p class="fault" role="alert">{{ $message }}</p><input type="hidden" name="anyway" value="1">@enderror
                    <button class="btn bad">Stop keeping it</button></form>
            </div>@endif
        @endif
    </div>
    <div class="spine"><span @class(['node', 'ok' => $sheet->keep !== null && $sheet->keep->fault === null && ($sheet->keep->is_view || $sheet->kept !== null),
        'bad' => $sheet->keep?->fault !== null, 'no' => $sheet->keep === null])>2</span></div>
    <div class="cell last min-w-0" id="texts">
        @if ($sheet->keep?->fault !== null)
            <p class="diagnosis" role="alert">{{ $sheet->keep->fault }}</p>
        @elseif ($sheet->keep?->version !== null && $sheet->keep->version < $query->version)
            <p class="note">It still says what version {{ $sheet->keep->version }} said; version {{ $query->version }} could not be kept.</p>
        @endif
        @if ($sheet->keep === null)
            <p class="s">Nothing is kept of it in {{ $environment->name }}.</p>
        @elseif ($sheet->keep->is_view)
            <p>{{ \App\View\Show::count(count($sheet->kept->columns ?? []), 'column') }}: <span
                class="m">{{ implode(', ', array_column($sheet->kept->columns ?? [], 'name')) }}</span></p>
            <p class="s mt-1">It reads as {{ $query->user->name }}, and no more than {{ $query->user->name }} may read.</p>
        @else
            @if ($sheet->kept !== null)<p><strong>{{ \App\View\Show::count($sheet->kept->rows,
                'row') }}</strong>, {{ \App\View\Show::count(count($sheet->kept->columns),
                'column') }}, refreshed {{ \App\View\Show::ago($sheet->kept->refreshed_at) }}.</p>@endif
            @if ($sheet->run !== null && ! $sheet->run->state->isOver())
                <p role="status" hx-get="{{ url()->full() }}" hx-trigger="load delay:1s" hx-select="#kept" hx-target="#kept" hx-swap="outerHTML"
                    data-quiet>{{ \App\Models\RunState::Queued === $sheet->run->state ? 'Waits for its turn.' :
                    'Is being read: '.\App\View\Show::count($sheet->run->rows, 'row').' so far.' }}</p>
            @elseif ($sheet->run?->state === \App\Models\RunState::Failed)
                <p class="diagnosis" role="alert">The last refresh failed: {{ $sheet->run->diagnosis['what'] ?? '' }} {{ $sheet->kept === null ? '' :
                    'The rows are those of before.' }}</p>
            @elseif (($sheet->run->rejects ?? 0) > 0)
                <p class="note">{{ \App\View\Show::count($sheet->run->rejects, 'row does not fit', 'rows do not fit') }}: see
                    the rejects of the run.</p>
            @endif
            @if ($sheet->run !== null)@can('view', $sheet->run)<p class="s mt-1"><a
                href="{{ route('runs.show', $sheet->run) }}">Run {{ $sheet->run->id }}</a></p>@endcan @endif
        @endif
        @if ($sheet->kept !== null)
        <details class="mt-3" @error('texts') open @enderror><summary><h3 class="inline">What its columns mean</h3></summary>
            @error('texts')<p class="diagnosis" role="alert">{{ $message }}</p>@enderror
            <form method="post" action="{{ route('queries.keep.texts', $query) }}">@csrf
            <table class="rows"><thead><tr><th>Column</th><th>Title</th><th>Unit</th><th>What it is</th></tr></thead><tbody>
            @foreach ($sheet->kept->keptColumns() as $column)<tr><td class="m">{{ $column->name }}</td>
                @foreach (['title' => '!w-36', 'unit' => '!w-16', 'comment' => ''] as $field => $width)<td>@if ($mayChange)<input class="f {{ $width }}"
                    name="texts[{{ $column->name }}][{{ $field }}]" value="{{ $column->{$field} }}" aria-label="{{ ucfirst($field) }} of {{ $column->name }}">
                    @else{{ $column->{$field} }}@endif</td>@endforeach</tr>@endforeach
            </tbody></table>
            @if ($mayChange)<p class="mt-2"><button class="btn">Write it down</button></p>@endif
            </form>
        </details>
        @endif
    </div>
</div>
