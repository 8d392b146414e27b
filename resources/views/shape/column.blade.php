@php
    $id = "t$t-c$c";
    $type = $column['type'] ?? $planned->type->name();
    $bad = $sheet->rejects["{$table['table']}.{$column['name']}"] ?? 0;
    $isKey = in_array($column['name'], $table['key'] ?? [], true);
    $samples = $sheet->samples($table['table'], $c, $planned->kept->name());
@endphp
<li class="column" id="{{ $id }}" data-table="{{ $t }}" data-column="{{ $c }}">
    <div class="line">
        <button type="button" class="grip" aria-label="Move {{ $column['name'] }}: Alt with the arrow up or down"
            aria-keyshortcuts="Alt+ArrowUp Alt+ArrowDown Delete" id="{{ $id }}-grip">⠿</button>
        <input class="f name" id="{{ $id }}-name" value="{{ $column['name'] }}" data-set="rename"
            aria-label="Name of column {{ $c + 1 }} of {{ $table['table'] }}" spellcheck="false">
        <select class="f" id="{{ $id }}-type" data-set="type" aria-label="Type of {{ $column['name'] }}">
            @foreach (\DeepSpring\Flatten\Type\Types::family()->titles() as $one => $label)<option value="{{ $one }}"
            @selected($type === $one)>{{ $label }}</option>@endforeach</select>
        <span class="eg" title="{{ \App\Http\Endpoints\EndpointForm::fromOf($column) }}">{{ implode(' · ', $samples) ?: '—' }}</span>
        @if (isset($column['compute']))<span class="tag">computed</span>@endif
        @if (isset($column['mask']))<span class="tag">{{ $column['mask'] }}</span>@endif
        @if ($bad > 0)<span class="tag i">{{ \App\View\Show::count($bad, 'does not fit', 'do not fit') }}</span>@endif
        <label class="key" title="part of the key"><input type="checkbox" id="{{ $id }}-key" data-set="key" value="1" @checked($isKey)> key</label>
        <button type="button" class="x" data-unfold="{{ $id }}-more" aria-expanded="false" aria-controls="{{ $id }}-more"
            aria-label="More of {{ $column['name'] }}">⋯</button>
        <button type="button" class="x" data-drop aria-label="Leave out {{ $column['name'] }}" id="{{ $id }}-drop">×</button>
    </div>
    <div class="more" id="{{ $id }}-more" hidden>
        <label class="wide">from <input class="f" id="{{ $id }}-from" data-set="from" value="{{ \App\Http\Endpoints\EndpointForm::fromOf($column) }}"
            spellcheck="false"></label>
        @if (in_array($type, ['date', 'datetime', 'time'], true))
            <label>Format <input class="f" id="{{ $id }}-read_as" data-set="read_as" value="{{ $column['read_as'] ?? '' }}"
                placeholder="iso, epoch, dd.MM.yyyy" list="moments" spellcheck="false"></label>
        @elseif (in_array($type, ['integer', 'decimal', 'float'], true))
            <label>Format <select class="f" id="{{ $id }}-read_as" data-set="read_as"><option value="">1234.5</option>
                @foreach (array_keys(\DeepSpring\Value\WrittenNumber::FORMS) as $form)<option
                @selected(($column['read_as'] ?? '') === $form)>{{ $form }}</option>@endforeach</select></label>
        @elseif ($type === 'boolean')
            <label>words <input class="f" id="{{ $id }}-read_as" data-set="read_as" value="{{ $column['read_as'] ?? '' }}" placeholder="true/false"
                spellcheck="false"></label>
        @elseif ($type === 'json')
            <label>comes as <select class="f" id="{{ $id }}-read_as" data-set="read_as"><option value="">JSON</option>
                <option value="text" @selected(($column['read_as'] ?? '') === 'text')>text that holds JSON</option></select></label>
        @endif
        @if ($type === 'datetime')<label>zone <input class="f" id="{{ $id }}-zone" data-set="zone" value="{{ $column['zone'] ?? '' }}"
            placeholder="UTC" spellcheck="false"></label>@endif
        @if ($type === 'decimal')<label>decimals <input class="f" id="{{ $id }}-scale" data-set="scale" value="{{ $column['scale'] ?? 2 }}"
            inputmode="numeric"></label>@endif
        @if (! $planned->single)
            <label>several become <select class="f" id="{{ $id }}-many" data-set="many">
                @foreach (['json' => 'a JSON list', 'join' => 'joined text', 'first' => 'the first', 'last' => 'the last', 'count' =>
                'their count'] as $many => $label)<option value="{{ $many }}" @selected(($column['many'] ?? 'json') === $many)>{{ $label }}</option>
                @endforeach</select></label>
            @if (($column['many'] ?? '') === 'join')<label>with <input class="f" id="{{ $id }}-with" data-set="with"
                value="{{ $column['with'] ?? ', ' }}"></label>@endif
        @endif
        <label>Rejects <select class="f" id="{{ $id }}-on_bad" data-set="on_bad">
            @foreach (['reject-value' => 'leave the value empty', 'reject-record' => 'leave the record out', 'fail' => 'stop the run'] as $bad =>
            $label)<option value="{{ $bad }}" @selected(($column['on_bad'] ?? 'reject-value') === $bad)>{{ $label }}</option>@endforeach</select></label>
        @if (! isset($column['compute']) && ! isset($column['position']) && ! isset($column['member']) && ! isset($column['input']))<label>shown as
            <select class="f" id="{{ $id }}-mask" data-set="mask">@foreach (['none' => 'it is', 'hash' => 'a hash that still joins', 'redact' =>
            'redacted', 'encrypt' => 'encrypted'] as $mask => $label)<option value="{{ $mask }}"
            @selected(($column['mask'] ?? 'none') === $mask)>{{ $label }}</option>@endforeach</select></label>@endif
        <label>title <input class="f" id="{{ $id }}-title" data-set="title" value="{{ $column['title'] ?? '' }}"></label>
        <label>unit <input class="f" id="{{ $id }}-unit" data-set="unit" value="{{ $column['unit'] ?? '' }}"></label>
        <label class="wide">comment <input class="f" id="{{ $id }}-comment" data-set="comment" value="{{ $column['comment'] ?? '' }}"></label>
    </div>
</li>
