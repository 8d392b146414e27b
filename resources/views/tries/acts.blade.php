@php($update = $endpoint ? route('endpoints.update', [$source, $endpoint]) : '')
<div class="acts-bar" role="toolbar" aria-label="With {{ $acts->path }}">
    <code title="{{ $acts->path }}">{{ mb_strimwidth($acts->path, 0, 60, '…') }}</code>
    <button type="button" class="btn small" data-focus data-copy="{{ $acts->path }}">Copy its JSONPath</button>
    @unless ($acts->isContainer())<button type="button" class="btn small" data-copy="{{ $acts->text() }}">Copy the value</button>@endunless
    @if ($editable && $endpoint)
        @if ($acts->asRecords())<x-sheet.step :to="$update" do="records-at" :with="['at' => $acts->asRecords()]"
            class="btn small">Use as the records</x-sheet.step>@endif
        @if ($acts->inRecord !== null && $acts->inRecord !== '$')<x-sheet.step :to="$update" do="node-column"
            :with="['node' => $acts->path, 'type' => $acts->columnType()]" class="btn small">Make it a column</x-sheet.step>@endif
        @foreach (array_slice($acts->inputs(), 0, 8) as $input)<x-sheet.step :to="$update" do="node-input"
            :with="['input' => $input, 'value' => mb_strcut($acts->text(), 0, 2000)]" class="btn small">Try {{ $input }} with it</x-sheet.step>@endforeach
        @if (! $acts->isContainer() && $acts->value !== null && ! is_bool($acts->value) && ($acts->inRecord === null ||
            ($acts->endpoint->endpoint['answer']['records'] ?? '') === ''))<x-sheet.step :to="$update" do="node-cursor"
            :with="['node' => $acts->path, 'value' => mb_strcut($acts->text(), 0, 400)]" class="btn small">Use as the cursor</x-sheet.step>@endif
    @endif
    <button type="button" class="x" aria-label="Close" data-clear="node-acts">×</button>
</div>
