<label>the column <x-pick id="refresh-column" name="refresh[column]" :options="$fields->sinceColumns()" :value="$fields->sinceText('column')" /></label>
<label>overlap <input class="f m !w-20" id="refresh-overlap" name="refresh[overlap]" value="{{ $fields->sinceText('overlap') }}"
    placeholder="0" spellcheck="false" title="how many before the last one are asked for again"></label>
