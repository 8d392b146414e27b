<fieldset class="mb-3" id="check-fields">
    <legend class="text-sm">Number of rows, looked at before new ones are put in place</legend>
    <div class="flex flex-wrap items-center gap-x-3 gap-y-2 text-sm">
        <label>at least <input class="f !w-20" id="check-least" name="checks[at_least]" inputmode="numeric"
            value="{{ $sheet->keep()->rowLimit('at_least') }}"></label>
        <label>at most <input class="f !w-20" id="check-most" name="checks[at_most]" inputmode="numeric"
            value="{{ $sheet->keep()->rowLimit('at_most') }}"></label>
        <label>changed by at most <input class="f !w-16" id="check-change" name="checks[change_at_most]" inputmode="numeric"
            value="{{ $sheet->keep()->rowLimit('change_at_most') }}"> %</label>
        <label>otherwise <x-pick id="check-on" name="checks[on]" :options="['stop' => 'the table stays as it is', 'note' => 'the run says so']"
            :value="$sheet->keep()->rowLimit('on')" /></label>
    </div>
</fieldset>
