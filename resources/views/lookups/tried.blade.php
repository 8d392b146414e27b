<p class="mb-2" id="tried"><span class="tag {{ $try->succeeded ? 'g' : 'i' }}">{{ $try->succeeded ? 'proven' : 'failed' }}</span>
    {{ $try->ended ?? $try->diagnosis['what'] ?? '' }} <a href="{{ route('tries.show', $try) }}">All of it</a></p>
<table class="rows mb-3"><thead><tr><th class="n">row</th><th>sent</th><th>came</th><th class="n">records</th><th class="n">took</th></tr></thead><tbody>
@foreach ($try->exchanges->where('number', '>', 0) as $one)
    <tr><td class="n">{{ $one->number }}</td><td class="m wrap">{{ strtok($one->request, "\n") }}</td>
        <td><span class="tag {{ $one->records === null ? 'i' : 'g' }}">{{ $one->status ?? 'no answer' }}</span></td>
        <td class="n">{{ $one->records ?? '—' }}</td><td class="n">{{ \App\View\Show::duration((int) ($one->timing['total'] ?? 0)) }}</td></tr>
@endforeach
</tbody></table>
@if ($batch && ($plan = $definition->plan()))
    @foreach ($plan->tables() as $number => $table)
        @php($rows = $batch->rows[$number] ?? [])
        <h2 class="text-sm">{{ $table->name }} <small class="font-normal">{{ \App\View\Show::count(count($rows), 'row') }}</small></h2>
        <div class="scroll mb-3" tabindex="0" role="region" aria-label="Rows of {{ $table->name }}"><table class="rows"><thead><tr>
            @foreach ($table->columns as $column)<th>{{ $column->name }}</th>@endforeach</tr></thead><tbody>
            @forelse ($rows as $row)<tr>@foreach ($row as $value)<td>{{ \App\View\Show::cell($value, 'text') }}</td>@endforeach</tr>
            @empty<tr><td colspan="{{ count($table->columns) }}">No row came of these.</td></tr>@endforelse
        </tbody></table></div>
    @endforeach
    @foreach ($batch->rejects as $reject)<p class="s">Reject: {{ $reject->path }} {{ $reject->reason }}</p>@endforeach
@endif
