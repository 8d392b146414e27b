@php($onward = $e['onward'] ?? ['style' => 'none'])
@php($fields = \App\Http\Endpoints\PagingFields::of($onward))
<div class="flex flex-wrap items-center gap-x-3 gap-y-2 text-sm">
    <label>Paging <x-sheet.choice class="!w-auto" id="onward-style" name="onward[style]" :to="$save" :options="$fields->styles"
        :value="$onward['style']" /></label>
    @foreach ($fields->plain as $field)
        <x-setting :of="$field" />
    @endforeach
</div>
@if ($fields->inner !== null)
    <div class="mt-2 flex flex-wrap items-center gap-x-3 gap-y-2 text-sm">
        <label>Paging within a window <x-sheet.choice class="!w-auto" id="onward-inner-style" name="onward[inner][style]" :to="$save"
            :options="$fields->innerStyles" :value="$fields->innerStyle" /></label>
        @foreach ($fields->inner as $field)
            <x-setting :of="$field" />
        @endforeach
    </div>
@endif
@if ($fields->advanced !== [])
    <details class="mt-1" @if ($fields->isAdvancedSet) open @endif><summary class="s">More settings</summary>
        <div class="mt-1 flex flex-wrap items-center gap-x-3 gap-y-2 text-sm"><input type="hidden" name="onward[flags]" value="1">
            @foreach ($fields->advanced as $field)
                <x-setting :of="$field" />
            @endforeach
        </div>
    </details>
@endif
