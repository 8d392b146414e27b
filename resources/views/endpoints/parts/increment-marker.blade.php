<label>found at <input class="f m !w-44" id="refresh-marker" name="refresh[marker]" value="{{ $fields->sinceText('marker') }}" placeholder="$.next_marker"
    spellcheck="false" title="a JSONPath in the whole answer"></label>
