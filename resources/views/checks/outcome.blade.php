@php($tags = ['held' => ['g', 'held'], 'broken' => ['i', 'broken'], 'unknown' => ['o', 'not checked']])
<p class="text-sm"><span class="tag {{ $tags[$outcome->value][0] }}">{{ $tags[$outcome->value][1] }}</span> {{ $sentence }}</p>
@if ($rows !== [] && $rows !== null)
    <details class="mt-1"><summary class="s">{{ count($rows) === 1 ? 'The row' : 'Some of the rows' }}</summary>
        <div class="scroll mt-1" tabindex="0" role="region" aria-label="Rows that break it"><table class="rows"><thead><tr>
            @foreach (array_keys($rows[0]) as $column)<th>{{ $column }}</th>@endforeach</tr></thead><tbody>
        @foreach ($rows as $row)<tr>@foreach ($row as $value)<td>{{ \App\View\Show::cell($value, 'text') }}</td>@endforeach</tr>@endforeach
        </tbody></table></div>
    </details>
@endif
