<label>the last <input class="f m !w-20" id="refresh-window" name="refresh[window]" value="{{ $fields->sinceText('window') }}" placeholder="P7D"
    spellcheck="false" title="an ISO 8601 duration: P7D is seven days"></label>
<label>its end sent as <input class="f m !w-32" id="refresh-until-as" name="refresh[until_as]" value="{{ $fields->sinceText('until_as') }}"
    spellcheck="false"></label>
<label>written as <x-pick id="refresh-format" name="refresh[format]" :options="\DeepSpring\Increment\SentMoment::FORMATS"
    :value="$fields->sinceText('format') ?: 'iso'" /></label>
<label>in the zone <input class="f !w-32" id="refresh-since-zone" name="refresh[since_zone]" list="zones" value="{{ $fields->sinceText('zone') }}"
    placeholder="UTC" spellcheck="false"></label>
