@php($history = $sheet->definition->endpoint['keep']['history'] ?? [])
@php($kind = \App\Http\Endpoints\HistoryForm::kind($history))
<fieldset class="mb-3" id="history-fields">
    <legend class="text-sm">What stays of it after a refresh</legend>
    <div class="flex flex-wrap items-center gap-x-3 gap-y-2 text-sm">
        <label>Keep <x-sheet.choice class="!w-auto" id="history-kind" name="history[kind]" :to="$save"
            :options="\App\Http\Endpoints\HistoryForm::CHOICES" :value="$kind" /></label>
        @if ($kind === 'snapshots')<label>as many as <input class="f !w-14" id="history-snapshots" name="history[snapshots]" inputmode="numeric"
            value="{{ $history['snapshots'] }}"></label>@endif
        @if ($kind !== 'none')
            <label>for <input class="f !w-16" id="history-days" name="history[days]" inputmode="numeric" value="{{ $history['days'] ?? '' }}"
                placeholder="{{ \DeepSpring\History\HistorySettings::DAYS }}"> days</label>
            <label>and <input class="f !w-24" id="history-rows" name="history[rows]" inputmode="numeric" value="{{ $history['rows'] ?? '' }}"
                placeholder="{{ \DeepSpring\History\HistorySettings::ROWS }}"> rows at most</label>
        @endif
    </div>
    @if ($kind === 'changes')<p class="s mt-1">In a table of its own, with <code>valid_from</code> and <code>valid_to</code>.</p>@endif
</fieldset>
