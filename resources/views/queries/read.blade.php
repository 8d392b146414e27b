@if ($result->reads !== [])
    <details class="mt-3" open><summary class="s">Made from</summary>
    <table class="rows"><thead><tr><th>Table</th><th class="n">Rows</th><th>Fresh</th><th>Index used</th></tr></thead><tbody>
    @foreach ($result->reads as $table)<tr><td class="m"><a href="{{ route('tables.show', $table->name) }}">{{ $table->name }}</a></td>
        <td class="n">{{ $table->is_view ? '—' : \App\View\Show::number($table->rows) }}</td>
        <td>{{ $table->is_view ? 'always' : \App\View\Show::ago($table->refreshed_at) }}</td>
        <td class="m">{{ implode('; ', array_map(fn ($columns) => implode(', ', $columns), $result->indexes[$table->name] ?? [])) ?: '—' }}</td></tr>@endforeach
    </tbody></table></details>
@endif
