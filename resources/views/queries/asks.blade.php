<div id="asks" data-url="{{ route('queries.asks') }}">
@if ($asked->parameters !== [])
    <table class="rows mt-3"><thead><tr><th>Parameter</th><th>Kind</th><th>Value</th><th></th></tr></thead><tbody>
    @foreach ($asked->parameters as $name => $one)
        @php($offered = $choices[$name] ?? [])
        <tr><td class="m">:{{ $name }}</td>
        <td><select class="f" name="k[{{ $name }}]" aria-label="Kind of {{ $name }}">@foreach (\DeepSpring\Sql\ParameterKind::cases() as $kind)<option
            value="{{ $kind->value }}" @selected($kind === $one->kind)>{{ $kind->label() }}</option>@endforeach</select></td>
        <td>@if ($offered !== [])
            <select class="f" name="p[{{ $name }}]{{ $one->many ? '[]' : '' }}" aria-label="Value of {{ $name }}" @if ($one->many) multiple size="4" @endif>
                @unless ($one->many)<option value="">{{ $one->default === null ? 'choose' : "as a rule: $one->default" }}</option>@endunless
                @foreach ($offered as $choice)<option @selected(in_array($choice, $asked->chosen($name), true))>{{ $choice }}</option>@endforeach
            </select>
            @else<input class="f" name="p[{{ $name }}]" aria-label="Value of {{ $name }}" value="{{ $asked->value($name) }}"
                placeholder="{{ $one->default }}" title="{{ $one->kind->hint() }}" @if (in_array($one->kind, [\DeepSpring\Sql\ParameterKind::Date,
                \DeepSpring\Sql\ParameterKind::Moment], true)) list="moments" @endif>@endif</td>
        <td><details class="menu"><summary class="link">settings</summary><div class="w-72">
            <label class="block">Without a value<input class="f" name="d[{{ $name }}]" value="{{ $one->default }}"></label>
            <label class="mt-2 block">Choices, one a line, or a statement<textarea class="f" rows="3"
                name="c[{{ $name }}]">{{ implode("\n", $one->choices) }}</textarea></label>
            <label class="mt-2 flex items-center gap-2"><input type="checkbox" name="m[{{ $name }}]" value="1" @checked($one->many)>
                several values, for <code>in (:{{ $name }})</code></label>
            <p class="s mt-2">They are saved with the query.</p>
        </div></details></td></tr>
    @endforeach
    </tbody></table>
    <datalist id="moments">@foreach (\DeepSpring\Sql\RelativeMoment::OFFERED as $words)<option>{{ $words }}</option>@endforeach</datalist>
@endif
</div>
