<fieldset class="mb-3" id="refresh-fields">
    <legend class="text-sm">When it is refreshed</legend>
    @if ($fields->choice !== 'manual' || $fields->isIncremental())<datalist id="zones">@foreach ($fields->zones() as $zone)<option
        value="{{ $zone }}">@endforeach</datalist>@endif
    <div class="flex flex-wrap items-center gap-x-3 gap-y-2 text-sm">
        <label>Refresh <x-sheet.choice class="!w-auto" id="refresh-choice" name="refresh[choice]" :to="$save" :options="$fields->choices()"
            :value="$fields->choice" /></label>
        @if (in_array($fields->choice, ['minutes', 'hours'], true))
            <label>every <x-pick id="refresh-step" name="refresh[step]" :options="$fields->steps()" :value="$fields->plain->step" /></label>
            @if ($fields->choice === 'hours')<label>at minute <input class="f !w-14" id="refresh-minute" name="refresh[minute]" inputmode="numeric"
                value="{{ $fields->plain->minute }}"></label>@endif
            <label>from <x-pick id="refresh-hour" name="refresh[hour]" :options="$fields->hours()" :value="$fields->plain->hour" /></label>
            <label>to <x-pick id="refresh-until" name="refresh[until]" :options="$fields->hours()" :value="$fields->plain->until" /></label>
        @elseif ($fields->choice === 'month')
            <label>on <x-pick id="refresh-date" name="refresh[date]" :options="$fields->dates()" :value="$fields->plain->date" /></label>
        @elseif ($fields->choice === 'cron')
            <label>expression <input class="f m !w-40" id="refresh-cron" name="refresh[cron]" value="{{ $fields->every }}" spellcheck="false"
                placeholder="30 6 * * 1-5" title="minute, hour, day of the month, month, day of the week"></label>
        @endif
        @if (in_array($fields->choice, ['minutes', 'hours', 'day'], true))
            <label>on <x-pick id="refresh-days" name="refresh[days]" :options="\DeepSpring\Schedule\PlainTimes::DAYS"
                :value="$fields->plain->days" /></label>
        @endif
        @if (in_array($fields->choice, ['day', 'month'], true))
            <label>at <input class="f !w-auto" type="time" id="refresh-at" name="refresh[at]" value="{{ $fields->plain->at() }}"></label>
        @endif
        @if ($fields->choice !== 'manual')
            <label>time zone <input class="f !w-40" id="refresh-zone" name="refresh[zone]" list="zones" value="{{ $fields->zone() }}"
                spellcheck="false"></label>
        @endif
    </div>
    <div class="mt-2 flex flex-wrap items-center gap-x-3 gap-y-2 text-sm">
        <label>Read <x-sheet.choice class="!w-auto" id="refresh-mode" name="refresh[mode]" :to="$save" :options="['whole' => 'all of it',
            'incremental' => 'only what changed']" :value="$fields->isIncremental() ? 'incremental' : 'whole'" /></label>
        @if ($fields->isIncremental())
            <label>by <x-sheet.choice class="!w-auto" id="refresh-by" name="refresh[by]" :to="$save" :options="\DeepSpring\Increment\Increments::WAYS"
                :value="$fields->by()" /></label>
            @include("endpoints.parts.increment-{$fields->by()}")
            <label>sent as <input class="f m !w-40" id="refresh-send-as" name="refresh[send_as]" value="{{ $fields->sinceText('send_as') }}"
                spellcheck="false" title="the parameter, as the documentation of the API names it"></label>
            <label>in <x-pick id="refresh-place" name="refresh[place]" :options="['query' => 'query', 'header' => 'header']"
                :value="$fields->sinceText('in')" /></label>
            <span class="basis-full"></span>
            <label>deleted at the source where <x-pick id="refresh-deleted" name="refresh[deleted_column]" :options="$fields->columns()"
                :value="$fields->deletedColumn()" /></label>
            <label>is <input class="f m !w-28" id="refresh-deleted-is" name="refresh[deleted_is]" value="{{ $fields->deletedIs() }}"
                spellcheck="false"></label>
            <label>all of it, so that deletions are seen <input class="f m !w-32" id="refresh-sweep" name="refresh[sweep]" value="{{ $fields->sweep() }}"
                placeholder="0 3 * * 0" spellcheck="false" title="a cron expression: minute, hour, day of the month, month, day of the week"></label>
        @endif
    </div>
    <details class="mt-1" @if ($fields->after() !== '' || $fields->olderThan() !== '' || $fields->in() !== '') open @endif><summary
        class="s">After another table, or when somebody reads it</summary>
        <div class="mt-1 flex flex-wrap items-center gap-x-3 gap-y-2 text-sm">
            <label>after the tables <input class="f m !w-52" id="refresh-after" name="refresh[after]" value="{{ $fields->after() }}"
                placeholder="borrowers, houses" spellcheck="false"></label>
            <label>when read and older than <x-pick id="refresh-older" name="refresh[older_than]" :options="$fields->ages()"
                :value="$fields->olderThan()" /></label>
            <label><input type="checkbox" id="refresh-wait" name="refresh[wait]" value="1" @checked($fields->waits())> the reader waits for it</label>
            @if (count($fields->environments()) > 1)
                <label>in <input class="f m !w-40" id="refresh-in" name="refresh[in]" value="{{ $fields->in() }}"
                    placeholder="{{ $fields->environments()[0] }}" spellcheck="false"
                    title="environments, separated by commas: {{ implode(', ', $fields->environments()) }}"></label>
            @endif
        </div>
    </details>
</fieldset>
