@php($at = 'check-'.$row->number)
<fieldset class="rule" id="{{ $at }}">
    <legend class="visually-hidden">Rule {{ $row->number + 1 }}, {{ $row->title }}</legend>
    <div>
        @foreach (['was' => $row->was, 'kind' => $row->kind, 'table' => $row->table] as $hidden => $value)<input type="hidden"
            name="checks[{{ $row->number }}][{{ $hidden }}]" value="{{ $value }}">@endforeach
        <div class="flex flex-wrap items-center gap-x-3 gap-y-1 text-sm">
            <span class="mr-auto" title="{{ $row->help }}"><strong>{{ ucfirst($row->title) }}</strong>@if (count($page->tables) > 1) <span
                class="s">in <span class="m">{{ $row->table }}</span></span>@endif</span>
            <label>otherwise <x-pick :id="$at.'-on'" :name="'checks['.$row->number.'][on]'" :options="array_map(fn ($words) => substr($words, 3),
                $row->acts)" :value="$row->on" /></label>
            @can('update', $source)<button class="btn small" name="do" value="remove {{ $row->number }}"
                aria-label="Remove the rule {{ $row->number + 1 }}">Remove</button>@endcan
        </div>
        <div class="mt-1 flex flex-wrap items-center gap-x-3 gap-y-2 text-sm">
            @foreach ($row->fields as $field)
                @if ($field->isColumn)
                    <label>{{ $field->label }} <x-pick :id="$field->id" :name="$field->name" :options="array_combine($row->columns, $row->columns)"
                        :value="$field->value" /></label>
                @else
                    <label @class(['grow' => $field->width === '!w-full', 'flex items-center gap-1' => $field->width === '!w-full'])
                        title="{{ $field->help }}"><span class="whitespace-nowrap">{{ $field->label }}</span> <input class="f {{ $field->width }}"
                        id="{{ $field->id }}" name="{{ $field->name }}" value="{{ $field->value }}" placeholder="{{ $field->example }}" spellcheck="false"
                        @if ($field->isNumber) inputmode="numeric" @endif @error($at) aria-invalid="true" aria-describedby="{{ $at }}-fault" @enderror></label>
                @endif
            @endforeach
        </div>
        @error($at)<p class="fault mt-1" id="{{ $at }}-fault" role="alert">{{ $message }}</p>@enderror
    </div>
    <div class="rule-happened" id="tried-{{ $row->number }}"></div>
</fieldset>
