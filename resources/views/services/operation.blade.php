<tr>
    <td class="m">{{ $operation->shortName() }} <span class="tag">{{ $operation->isAction ? 'action, writes' :
        'function, reads' }}</span>@if ($operation->about !== '')<small class="block font-body">{{ $operation->about }}</small>@endif</td>
    <td class="m wrap">{{ implode(', ', array_map(fn ($one) => "$one->name {$one->typed()}", $operation->parameters)) ?: 'none' }}</td>
    <td class="m">{{ $operation->returns === null ? 'nothing' : ($operation->returnsMany ? 'several ' : '').substr($operation->returns, (int)
        strrpos(".$operation->returns", '.')) }}</td>
    <td class="n">
        @php($there = array_values(array_filter($taken["operation $operation->name"] ?? [], fn ($one) => ($one['entity_set'] ?? null) === $set?->name)))
        @if ($there !== [])<a href="{{ route('endpoints.show', [$source, $there[0]['slug']]) }}">{{ $there[0]['name'] }}</a>
        @else @can('update', $source)<form method="post" action="{{ route('services.take', $source) }}">@csrf<input type="hidden" name="operation"
            value="{{ $operation->name }}">@if ($set)<input type="hidden" name="set" value="{{ $set->name }}">@endif<button class="btn small"
            aria-label="Add as an endpoint: {{ $operation->shortName() }}">Add as an endpoint</button></form>@endcan @endif
    </td>
</tr>
