<label>the column <x-pick id="refresh-column" name="refresh[column]" :options="$fields->sinceColumns()" :value="$fields->sinceText('column')" /></label>
<label>written as <x-pick id="refresh-format" name="refresh[format]" :options="\DeepSpring\Increment\SentMoment::FORMATS"
    :value="$fields->sinceText('format') ?: 'iso'" /></label>
<label>in the zone <input class="f !w-32" id="refresh-since-zone" name="refresh[since_zone]" list="zones" value="{{ $fields->sinceText('zone') }}"
    placeholder="UTC" spellcheck="false"></label>
<label>overlap <input class="f m !w-20" id="refresh-overlap" name="refresh[overlap]" value="{{ $fields->sinceText('overlap') }}"
    placeholder="PT5M" spellcheck="false" title="how much earlier is asked for, as an ISO 8601 duration: PT5M is five minutes"></label>
