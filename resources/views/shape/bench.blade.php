@php
    use App\View\Show;
    $flatten = $sheet->definition->endpoint['flatten'] ?? null;
    $tables = $flatten === null ? [] : array_values(\DeepSpring\Flatten\Plan::tablesIn($flatten));
    $planned = $sheet->plan?->tables() ?? [];
    $counts = $sheet->counts();
    $mayShape = auth()->user()->can('update', $source);
@endphp
<div id="shape" data-url="{{ route('endpoints.shape.update', [$source, $sheet->row]) }}" data-record="{{ route('endpoints.shape.record', [$source,
    $sheet->row]) }}">
@if ($sheet->records === [])
    <div class="empty"><h2>There are no records to shape yet</h2><p
        class="mt-2 mb-3">Try the endpoint once, or give a sample answer by hand. Its fields appear here then, with a table proposed from them.</p><a
        class="btn go" href="{{ route('endpoints.show', [$source, $sheet->row]) }}">Open the sheet</a></div>
@else
<div class="shape-bar">
    <span class="s">{{ Show::count($sheet->fieldCount, 'field') }} in {{ Show::count(count($sheet->records), 'record') }} of the last try</span>
    <label class="visually-hidden" for="field-filter">Filter the fields</label><input class="f" id="field-filter" placeholder="filter fields"
        spellcheck="false" data-find>
    @if ($mayShape)
    <button type="button" class="btn small" data-do="undo" id="undo" @disabled($undo === 0) aria-keyshortcuts="Control+Z">Undo</button>
    <button type="button" class="btn small" data-do="redo" id="redo" @disabled($redo === 0) aria-keyshortcuts="Control+Shift+Z">Redo</button>
    <button type="button" class="btn small" data-do="add" data-path="$" id="add-all">Add all fields</button>
    <button type="button" class="btn small" data-do="add-leaves" data-path="$" id="add-leaves">Only leaves</button>
    @php($isShort = $flatten !== null && (new \DeepSpring\Flatten\Shaping($flatten, []))->prefix(0, false)['columns'] === $flatten['columns'])
    <button type="button" class="btn small" data-do="prefix" data-with="{{ $isShort ? 'yes' : 'no' }}" data-table="0"
        id="prefix">{{ $isShort ? 'With prefix' : 'Without prefix' }}</button>
    @if ($flatten !== null)<button type="button" class="btn small" data-do="split" id="split"
        title="A second table from the same records; a condition on each tells them apart">Split</button>@endif
    <button type="button" class="btn small" data-do="propose" id="propose-anew">{{ $flatten === null ? 'Propose a table' : 'Propose again' }}</button>
    @endif
    <span class="ml-auto text-sm" role="status" id="step">
        @if ($sheet->fault)<span class="tag i">{{ $sheet->fault }}</span>
        @elseif ($before !== null && $counts !== null)
            @php($parts = [])
            @foreach ($counts['rows'] as $name => $rows)@php($was = $before['rows'][$name] ?? null)@if ($was !== $rows)@php($parts[] = $was === null ?
                "$name: ".Show::count($rows, 'row') : "$name: ".Show::number($was).' → '.Show::count($rows, 'row'))@endif @endforeach
            @foreach (array_diff_key($before['rows'], $counts['rows']) as $name => $rows)@php($parts[] = "$name is gone")@endforeach
            @if ($before['rejected'] !== $counts['rejected'])@php($parts[] =
                'rejects: '.Show::number($before['rejected']).' → '.Show::number($counts['rejected']))@endif
            @if ($before['filtered'] !== $counts['filtered'])@php($parts[] =
                'left out by conditions: '.Show::number($before['filtered']).' → '.Show::number($counts['filtered']))@endif
            This step: {{ $parts === [] ? 'the same rows, nothing more is left out' : implode(' · ', $parts) }}
        @elseif ($counts !== null)
            {{ collect($counts['rows'])->map(fn ($rows, $name) => Show::count($rows, 'row')." of $name")->join(', ') }} · {{ $counts['rejected'] === 0
                ? 'everything fits' : Show::count($counts['rejected'], 'value does not fit', 'values do not fit') }}
        @endif
    </span>
</div>
@if ($lost !== [])
    <div class="note mx-6">Once published, {{ Show::count(count($lost), 'kept column') }} will be gone: @foreach (array_slice($lost, 0,
        6) as $one)<code>{{ $one['column'] }}</code>@if ($one['queries'] !== []) (read by {{ implode(', ', array_slice($one['queries'], 0,
        3)) }})@endif{{ $loop->last ? '' : ', ' }}@endforeach{{ count($lost) > 6 ? ' and more' : '' }}. Until then the tables stay as they are.</div>
@endif
<div class="shape-panes">
    <div class="fields" id="fields"><ul role="tree" aria-label="Fields of the records">@foreach ($sheet->fields as $field)@include('shape.field',
        ['field' => $field, 'depth' => 0])@endforeach</ul><p class="s" id="no-field" hidden>No field is like that.</p></div>
    <svg class="ribbons" id="ribbons" aria-hidden="true"></svg>
    <div class="columns-pane" id="columns">
    @forelse ($tables as $t => $table)
        <section data-drop-table="{{ $t }}" aria-label="Columns of {{ $table['table'] }}">
        <div class="table-head">
            <label class="visually-hidden" for="t{{ $t }}-table">Name of table {{ $t + 1 }}</label><input class="f table" id="t{{ $t }}-table"
                data-table-name="{{ $t }}" value="{{ $table['table'] }}" spellcheck="false">
            <small>@if ($t > 0)branch table, a row for each of
                <code>{{ $table['from'] }}</code> · @endif{{ Show::count(count($table['columns']), 'column') }}{{ $counts ===
                null ? '' : ', '.Show::count($counts['rows'][$table['table']] ?? 0, 'row') }}{{ ($table['key'] ?? []) === [] ?
                ', no key: rows get a number' : '' }}</small>
            @if ($mayShape && ($table['key'] ?? []) === [])<button type="button" class="link text-sm" data-do="make-key"
                data-table="{{ $t }}">use all columns as the key</button>@endif
            @if ($mayShape)<label class="s where">only where <input class="f" id="t{{ $t }}-where" data-where="{{ $t }}"
                value="{{ $table['where'] ?? '' }}" placeholder="status == 'open'" spellcheck="false"></label>
            <details class="basis-full text-sm" @if (($table['title'] ?? '') !== '') open @endif><summary class="s">what it is</summary>
                @foreach (['title' => 'title', 'owner' => 'who answers for it', 'comment' => 'comment'] as $field => $words)<label
                    class="s where">{{ $words }} <input
                    class="f {{ $field === 'comment' ? '!w-96' : '' }}" id="t{{ $t }}-{{ $field }}" data-table-text="{{ $t }}" value="{{ $table[$field] ?? '' }}"></label>@endforeach</details>
            @if ($t > 0)<button type="button" class="x" data-do="drop-table" data-table="{{ $t }}"
                aria-label="Leave out the table {{ $table['table'] }}">×</button>@endif @endif
        </div>
        <ul class="columns-list" aria-label="Columns of {{ $table['table'] }}">
            @foreach ($table['columns'] as $c => $column)@include('shape.column', ['planned' => $planned[$t]->columns[$c]])@endforeach
        </ul>
        @if ($mayShape)<div class="compute"><input class="f" id="t{{ $t }}-new" placeholder="new column"
            aria-label="Name of a computed column of {{ $table['table'] }}" spellcheck="false"> = <input class="f wide" id="t{{ $t }}-expression"
            data-compute="{{ $t }}" placeholder="round(cover * 1.25, 2)" aria-label="Expression" spellcheck="false"> <button type="button"
            class="btn small" data-compute-go="{{ $t }}">Compute</button></div>@endif
        </section>
    @empty
        <div class="empty !m-0"><h2>No columns yet</h2><p class="mt-2">Let a table be proposed, or put fields here with + or by dragging them.</p></div>
    @endforelse
    </div>
</div>
<datalist id="moments"><option value="iso"><option value="epoch"><option value="epoch-ms"><option value="odata-v2"><option value="rfc2822">
    <option value="dd.MM.yyyy"><option value="MM/dd/yyyy"><option value="yyyy-MM-dd HH:mm"></datalist>
<div class="shape-result">
    @foreach ($planned as $t => $table)
        @php($shape = new \App\Reservoir\TableShape($table))
        <h2 class="m">{{ $shape->name }} <small class="font-normal">the first rows; choose one to see its record</small></h2>
        <div class="scroll" tabindex="0" role="region" aria-label="Rows of {{ $shape->name }}"><table class="rows"><thead>
            <tr>@foreach ($shape->columns as $column)<th @class(['n' => $column->isNumber()])
            title="{{ $column->from }}">{{ $column->name }}</th>@endforeach</tr></thead><tbody>
        @foreach (array_slice($sheet->rows[$table->name] ?? [], 0, $t === 0 ? 8 : 4) as $one)
            <tr data-record="{{ $one['record'] }}" tabindex="0">@foreach ($one['row'] as $place => $value)<td
                @class(['n' => $shape->columns[$place]->isNumber(), 'm' => in_array($shape->columns[$place]->type, ['date', 'datetime', 'json'],
                true)])>{{ Show::cell($value, $shape->columns[$place]->type) }}</td>@endforeach</tr>
        @endforeach
        </tbody></table></div>
    @endforeach
    @if (($sheet->batch?->rejects ?? []) !== [])
        <details class="mt-2"><summary class="s">Rejects</summary><table class="rows mt-1"><thead><tr><th>column</th><th>record</th><th>where</th>
            <th>value</th><th>why</th></tr></thead><tbody>
        @foreach (array_slice($sheet->batch->rejects, 0, 12) as $reject)<tr><td class="m">{{ $reject->table }}.{{ $reject->column }}</td>
            <td class="m">{{ $reject->key ?: '—' }}</td><td class="m">{{ $reject->path }}</td>
            <td class="m">{{ mb_strimwidth($reject->value, 0, 60, '…') }}</td><td class="wrap">{{ $reject->reason }}</td></tr>@endforeach
        </tbody></table></details>
    @endif
    <div id="record"></div>
</div>
@endif
</div>
@if (request()->hasHeader('HX-Request'))<div id="shape-fault" role="alert" hx-swap-oob="true"></div>@endif
