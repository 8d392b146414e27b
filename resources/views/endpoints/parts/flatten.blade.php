<div class="sticky top-3">
@if ($sheet->preview()->fault)
    <div class="diagnosis" role="alert">{{ $sheet->preview()->fault }}</div>
@endif
@forelse ($sheet->preview()->tables as $number => $table)
    @php($empties = collect($table->shape->columns)->map(fn ($column, $place) => ['name' => $column->name, 'empty' => $table->empty[$place], 'rows' =>
        count($table->rows)])->filter(fn ($one) => $one['rows'] > 0 && $one['empty'] === $one['rows']))
    <p @class(['mb-1', 'mt-4' => $number > 0])><strong class="m">{{ $table->shape->name }}</strong>@if ($table->shape->given() !==
        $table->shape->name) <span class="tag o">{{ $table->shape->given() }} is kept as {{ $table->shape->name }}</span>@endif
        <small>{{ \App\View\Show::count(count($table->rows), 'row') }} from {{ $sheet->answer->isSample ? 'the sample' :
        'the first answer' }}{{ $table->shape->key === [] ? ', no key: rows get a number' : ', key '.implode(' + ', $table->shape->key) }}</small></p>
    <div class="scroll" tabindex="0" role="region" aria-label="Rows of {{ $table->shape->name }}">
    <table class="rows">
        <thead><tr>@foreach ($table->shape->columns as $column)<th @class(['n' => $column->isNumber()])
            title="{{ $column->from }} · {{ $column->label }}{{ $column->given !== $column->name ? ' · kept as '.$column->name :
            '' }}">{{ $column->name }}@if ($column->given !== $column->name)<span
            class="tag o ml-1">from “{{ $column->given }}”</span>@endif</th>@endforeach</tr></thead>
        <tbody>
        @foreach (array_slice($table->rows, 0, $number === 0 ? 8 : 5) as $row)
            <tr>@foreach ($row as $place => $value)<td @class(['n' => $table->shape->columns[$place]->isNumber(), 'm' =>
                in_array($table->shape->columns[$place]->type, ['date', 'datetime', 'json'], true)])>{{ \App\View\Show::cell($value,
                $table->shape->columns[$place]->type) }}</td>@endforeach</tr>
        @endforeach
        </tbody>
    </table>
    </div>
    @if ($empties->isNotEmpty())<p class="mt-1"><span class="tag o">{{ $empties->pluck('name')->take(4)->join(', ') }}{{ $empties->count() > 4 ?
        ' and '.($empties->count() - 4).' more' : '' }}: empty in every row</span></p>@endif
@empty
    <p class="s">{{ $sheet->records === [] ? 'Once an answer has records, their fields can become columns here.' :
        'Let columns be proposed from '.\App\View\Show::count(count($sheet->records), 'record').', then change what you like. The table will be here.' }}</p>
@endforelse
@if ($sheet->preview()->tables !== [])
    <p class="mt-2"><small>{{ \App\View\Show::count(count($sheet->records), 'record') }} → {{ collect($sheet->preview()->tables)->map(fn ($table) =>
        \App\View\Show::count(count($table->rows), 'row').' of '.$table->shape->name)->join(', ', ' and ') }}
        {{ $sheet->preview()->filtered > 0 ? '· '.\App\View\Show::count($sheet->preview()->filtered, 'row').' left out by conditions' :
        ($sheet->preview()->rejected === 0 ? '· nothing dropped' : '') }}</small>
        @if ($sheet->preview()->rejected > 0)<span class="tag i">{{ \App\View\Show::count($sheet->preview()->rejected, 'reject') }}</span>@endif</p>
    @if ($sheet->preview()->rejects !== [])
        <details class="mt-1" @if ($sheet->preview()->rejected <= 12) open @endif><summary class="s">Rejects: values that do not fit their column</summary>
        <table class="rows mt-1"><thead><tr><th>column</th><th>path in the record</th><th>value</th><th>why</th></tr></thead><tbody>
        @foreach (array_slice($sheet->preview()->rejects, 0, 12) as $reject)
            <tr><td class="m">{{ $reject->table }}.{{ $reject->column }}</td><td class="m">{{ $reject->path }}</td>
                <td class="m">{{ mb_strimwidth($reject->value, 0, 60, '…') }}</td><td class="wrap">{{ $reject->reason }}</td></tr>
        @endforeach
        </tbody></table></details>
    @endif
@endif
</div>
