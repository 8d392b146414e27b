<fieldset class="kept-inputs mb-3">
    <legend class="text-sm">What the table is read with</legend>
    @foreach ($sheet->keep()->inputs() as $number => $input)
        <div class="kept-input">
            <label for="keep-input-{{ $number }}"><code>{{ $input['name'] }}</code>@if ($input['isNeeded']) <span class="s">required</span>@endif</label>
            <textarea class="f" rows="{{ $input['lines'] }}" id="keep-input-{{ $number }}" name="keep_inputs[{{ $input['name'] }}]"
                placeholder="{{ $input['default'] === '' ? 'left out' : $input['default'] }}" spellcheck="false"
                aria-describedby="keep-inputs-help">{{ $input['text'] }}</textarea>
        </div>
    @endforeach
    <p class="s" id="keep-inputs-help">Test values are for trying only.
        A line is one reading; several lines are read one after the other into the same table.@if (collect($sheet->keep()->inputs())->contains('isMany',
        true)) Several values of one reading are separated by commas.@endif</p>
    <p class="text-sm"><a href="{{ route('endpoints.lookup', [$source, $sheet->row]) }}" id="open-lookup">One request for each row of a table</a> ·
        <x-sheet.step :to="$save" do="keep-as-tried" class="link" id="keep-as-tried">Use the test values</x-sheet.step></p>
</fieldset>
