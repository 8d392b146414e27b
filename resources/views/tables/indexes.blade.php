<div id="index-list" data-quiet @if ($isWorking) hx-get="{{ route('tables.indexes', $table->name) }}" hx-trigger="load delay:1500ms" hx-swap="outerHTML" @endif>
    <div class="scroll" tabindex="0" role="region" aria-label="Indexes of {{ $table->name }}">
    <table class="rows mt-1 max-w-[1100px]">
        <thead><tr><th>index over</th><th>built</th><th class="n">space</th><th>last served a statement</th>
            <th><span class="visually-hidden">Change</span></th></tr></thead>
        <tbody>
            @if ($table->key !== [])<tr><td class="m">{{ implode(', ', $table->key) }}</td><td>the key, with the rows</td><td></td><td></td><td></td></tr>@endif
            @foreach ($taken as $index)
                @php($isThere = isset($there[$index->mark]))
                <tr>
                    <td class="m whitespace-nowrap">{{ implode(', ', $index->columns) }}</td>
                    <td class="wrap min-w-32">@if ($index->fault)<span class="tag i">not built</span> {{ $index->fault }}@elseif ($isThere)in
                        {{ \DeepSpring\Value\Phrase::duration($index->milliseconds ?? 0) }}@else<span class="tag o">being built</span>@endif</td>
                    <td class="n whitespace-nowrap">{{ $isThere && $there[$index->mark]->bytes !== null ?
                        \DeepSpring\Value\Phrase::bytes($there[$index->mark]->bytes) : '' }}</td>
                    <td>@if ($index->isUnused())<span class="tag o">none in {{ \App\Models\TableIndex::UNUSED }} days</span>@else
                        {{ $index->used_at ? \App\View\Show::ago($index->used_at) : 'none yet' }}@endif</td>
                    <td class="min-w-20">@if ($mayChange)<form method="post"
                        action="{{ route('tables.indexes.drop', [$table->name, $index]) }}">@csrf @method('delete')<button
                        class="btn small" aria-label="Drop the index over {{ implode(', ', $index->columns) }}">Drop</button></form>@endif</td>
                </tr>
            @endforeach
        </tbody>
    </table>
    </div>
    @if ($proposals !== [])
        <div class="scroll" tabindex="0" role="region" aria-label="Proposed indexes of {{ $table->name }}">
        <table class="rows mt-3 max-w-[1100px]">
            <caption class="text-left">Proposed</caption>
            <thead><tr><th>index over</th><th>why</th><th>space, and time with each refresh</th><th><span class="visually-hidden">Take</span></th></tr></thead>
            <tbody>
            @foreach ($proposals as $one)
                <tr>
                    <td class="m whitespace-nowrap">{{ implode(', ', $one->columns) }}</td>
                    <td class="wrap min-w-64">@foreach ($one->reasons as $reason)<div>{{ $reason }}</div>@endforeach</td>
                    <td class="min-w-40" data-quiet
                        hx-get="{{ route('tables.indexes.cost', ['name' => $table->name, 'columns' => implode(',', $one->columns)]) }}"
                        hx-trigger="load">measuring …</td>
                    <td class="min-w-20">@if ($mayChange)<form method="post"
                        action="{{ route('tables.indexes.add', $table->name) }}">@csrf<input type="hidden" name="columns"
                        value="{{ implode(',', $one->columns) }}"><button class="btn small"
                        aria-label="Add an index over {{ implode(', ', $one->columns) }}">Add</button></form>@endif</td>
                </tr>
            @endforeach
            </tbody>
        </table>
        </div>
    @else
        <p class="s mt-2">{{ $isSmall ? 'Nothing is proposed: so few rows are read as quickly without an index.' :
            'Nothing is proposed: no statement of the last '.\App\Models\StatementUse::DAYS.' days took '.\DeepSpring\Indexing\IndexAdvice::MILLISECONDS.
            ' ms or more with conditions that another index would serve.' }}</p>
    @endif
    @if ($mayChange)
        <form class="mt-3 flex flex-wrap items-end gap-2" method="post" action="{{ route('tables.indexes.add', $table->name) }}">@csrf
            <div><label class="s block" for="index-columns">Another, over these columns in this order</label><input class="f m w-72"
                id="index-columns" name="columns"
                value="{{ $columns }}" placeholder="{{ collect($table->columns)->pluck('name')->diff($table->key)->take(2)->implode(', ') }}"
                @if ($isFaulty) aria-invalid="true" aria-describedby="index-fault" @endif></div>
            <button class="btn">Add index</button>
        </form>
    @endif
</div>
