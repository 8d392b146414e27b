@if ($fault)
    <div class="diagnosis" role="alert">{{ $fault }}</div>
@elseif ($result)
    <p class="mb-2" role="status"><strong>{{ \App\View\Show::count(count($result->rows), 'row') }}</strong> <small>in {{ \App\View\Show::duration($result->milliseconds) }}</small> @if ($result->cutShort)<span class="tag o">the first {{ \App\View\Show::number(count($result->rows)) }} rows; there are more. The export has all of them.</span>@endif</p>
    @if ($result->rows === [])
        <p class="s">The query is fine, and nothing matches it.</p>
    @endif
    <div class="scroll max-h-[640px] overflow-y-auto" tabindex="0" role="region" aria-label="Rows of the result">
    <table class="rows">
        <thead><tr>@foreach ($result->columns as $column)<th @class(['n' => $column->isNumber])>{{ $column->name }}</th>@endforeach</tr></thead>
        <tbody>
        @foreach ($result->rows as $row)
            <tr>@foreach ($row as $place => $value)<td @class(['n' => $result->columns[$place]->isNumber])>{{ \App\View\Show::cell($value, $result->columns[$place]->isNumber ? 'decimal' : 'text') }}</td>@endforeach</tr>
        @endforeach
        </tbody>
    </table>
    </div>
@endif
