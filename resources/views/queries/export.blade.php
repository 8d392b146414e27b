<details class="menu" id="export-menu"><summary class="btn">Export ▾</summary><div class="w-80">
    @php($ask = fn (string $as, string $label, array $with = []) => [$as, $label, $with])
    @foreach ([['csv', 'CSV, safe for spreadsheets', []], ['csv', 'CSV, exact values', ['exact' => '1']], ['xlsx', 'XLSX', []],
        ['xlsx', 'XLSX, a sheet for each statement', ['all' => '1']], ['tsv', 'TSV', []], ['json', 'JSON', []], ['ndjson', 'NDJSON', []],
        ['md', 'Markdown', []]] as [$as, $label, $with])
        <p class="mt-1"><button type="button" class="link" data-export="{{ $as }}" hx-post="{{ route('queries.export') }}"
            hx-include="#sql, #cursor, #asks, #separator, #encoding, #titles, #export-token" hx-vals="{{ json_encode(['as' => $as] + $with) }}"
            hx-target="#exported" hx-disabled-elt="[data-export]">{{ $label }}</button></p>
    @endforeach
    <input type="hidden" name="token" id="export-token">
    <div class="mt-2 grid grid-cols-2 gap-2"><label>Separator of CSV<select class="f" name="separator" id="separator">
        @foreach (['comma', 'semicolon', 'tab', 'bar'] as $one)<option value="{{ $one }}">{{ $one }}</option>@endforeach</select></label>
        <label>Encoding<select class="f" name="encoding" id="encoding">
        @foreach (\DeepSpring\Export\ExportChoice::ENCODINGS as $one => $label)<option
            value="{{ $one }}">{{ $label }}</option>@endforeach</select></label></div>
    <label class="mt-2 flex items-center gap-2"><input type="checkbox" id="titles" name="titles" value="1"> titles and units as heads</label>
    <p class="s mt-2">Safe: a text that a spreadsheet would run as a formula gets an apostrophe in front, and it is said which.</p>
    <p class="s mt-1" id="export-progress" role="status" data-url="{{ route('queries.export.give', 'TOKEN') }}"></p>
    <div class="mt-2" id="exported"></div>
</div></details>
