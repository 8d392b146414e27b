@php($update = $endpoint ? 'hx-post="'.e(route('endpoints.update', [$source,
    $endpoint])).'" hx-include="#sheet-form" hx-target="#sheet" hx-swap="outerHTML"' : '')
<div class="acts-bar" role="toolbar" aria-label="With {{ $acts->path }}">
    <code title="{{ $acts->path }}">{{ mb_strimwidth($acts->path, 0, 60, '…') }}</code>
    <button type="button" class="btn small" data-focus data-copy="{{ $acts->path }}">Copy its JSONPath</button>
    @unless ($acts->isContainer())<button type="button" class="btn small" data-copy="{{ $acts->text() }}">Copy the value</button>@endunless
    @if ($editable && $endpoint)
        @if ($acts->asRecords())<button type="button" class="btn small" {!! $update !!} name="records_choice"
            value="{{ $acts->asRecords() }}">Use as the records</button>@endif
        @if ($acts->inRecord !== null && $acts->inRecord !== '$')<button type="button" class="btn small" {!! $update !!}
            hx-vals="{{ json_encode(['do' => 'node-column', 'node' => $acts->path, 'type' => $acts->columnType()]) }}">Make it a column</button>@endif
        @foreach (array_slice($acts->inputs(), 0, 8) as $input)<button type="button" class="btn small" {!! $update !!}
            hx-vals="{{ json_encode(['do' => 'node-input', 'input' => $input, 'value' => mb_strcut($acts->text(), 0,
            2000)]) }}">Try {{ $input }} with it</button>@endforeach
        @if (! $acts->isContainer() && $acts->value !== null && ! is_bool($acts->value) && ($acts->inRecord === null ||
            ($acts->endpoint->endpoint['answer']['records'] ?? '') === ''))<button type="button" class="btn small" {!! $update !!}
            hx-vals="{{ json_encode(['do' => 'node-cursor', 'node' => $acts->path, 'value' => mb_strcut($acts->text(), 0,
            400)]) }}">Use as the cursor</button>@endif
    @endif
    <button type="button" class="x" aria-label="Close" data-clear="node-acts">×</button>
</div>
