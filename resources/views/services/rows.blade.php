@use('App\View\Show')
@if (isset($failed) && $failed)
    <x-diagnosis :of="$failed" />
@elseif (isset($look) && $look)
    <p class="s"><span class="tag g">{{ $look->status }}</span> {{ Show::duration($look->milliseconds) }} @if ($isShort ?? false)· asked with
        <code>$top=20</code> @else· <code>{{ $look->readable() }}</code>@endif</p>
    @if ($look->plan === null)<pre class="ev tall">{{ mb_strimwidth(mb_scrub($look->body), 0, 4000, '…') }}</pre>@else
    @foreach ($look->plan->tables() as $t => $table)
        @php($shape = new \App\Reservoir\TableShape($table))
        <h3 class="m mt-2">{{ $shape->name }} <small class="font-normal">{{ $t === 0 ? 'at most 20 rows were asked for' :
            'branch table' }}: {{ Show::count(count($look->batch->rows[$t]), 'row') }}</small></h3>
        @if ($look->batch->rows[$t] === [])<p class="s">None came.</p>@else
        <div class="scroll" tabindex="0" role="region" aria-label="Rows of {{ $shape->name }}"><table class="rows"><thead>
            <tr>@foreach ($shape->columns as $column)<th @class(['n' => $column->isNumber()])
            title="{{ $column->from }}">{{ $column->name }}</th>@endforeach</tr></thead><tbody>
        @foreach (array_slice($look->batch->rows[$t], 0, $t === 0 ? 20 : 6) as $row)
            <tr>@foreach ($row as $place => $value)<td @class(['n' => $shape->columns[$place]->isNumber(), 'm' =>
                in_array($shape->columns[$place]->type, ['date', 'datetime', 'json'], true)])>{{ Show::cell($value,
                $shape->columns[$place]->type) }}</td>@endforeach</tr>
        @endforeach
        </tbody></table></div>@endif
    @endforeach
    @if ($look->batch->rejected > 0)
        <details class="mt-1"><summary class="s">{{ Show::count($look->batch->rejected, 'value does not fit',
            'values do not fit') }} what the metadata says</summary><table class="rows">
            <tbody>@foreach (array_slice($look->batch->rejects, 0, 8) as $reject)<tr><td class="m">{{ $reject->table }}.{{ $reject->column }}</td>
            <td class="m">{{ mb_strimwidth($reject->value, 0, 60, '…') }}</td><td class="wrap">{{ $reject->reason }}</td></tr>@endforeach</tbody>
            </table></details>
    @endif @endif
@endif
