@php($act = $one->change?->kind)
<tr data-row="{{ $one->id }}" @class(['r-'.$one->class() => $one->class() !== ''])>
    <td class="pick"><input type="checkbox" data-pick aria-label="Select {{ $one->change?->key === null && $act !== null ? 'this new row' :
        implode(' ', $one->table->key($one->row)) }}"></td>
    @foreach ($columns as $column)
        @php($may = $one->mayEdit($column->given))
        <td tabindex="-1" data-column="{{ $column->given }}" data-typed="{{ $one->typed($column) }}" @unless ($may) data-fixed @endunless
            @if (isset($one->faults[$column->given])) aria-invalid="true" title="{{ $one->faults[$column->given] }}" @endif
            @class(['n' => $column->isNumber(), 'm' => in_array($column->type, ['date', 'datetime', 'json'], true), 'changed' => $one->isChanged($column->given),
            'bad' => isset($one->faults[$column->given]), 'stays' => ! $may])>{{ $act === \DeepSpring\Change\RecordAct::Create && ! $may &&
            in_array($column->given, $one->table->plan->table->key, true) ? 'new' : $one->shown($column) }}</td>
    @endforeach
    <td @class(['says', 'bad' => $one->isBad()])>{{ $one->says() }}</td>
</tr>
