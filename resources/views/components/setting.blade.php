@props(['of'])
@if ($of->isFlag)
    <label title="{{ $of->help }}"><input type="checkbox" id="{{ $of->id }}" name="{{ $of->name }}" value="1" @checked($of->value === '1')>
        {{ $of->label }}</label>
@elseif ($of->choices !== [])
    <label class="whitespace-nowrap" title="{{ $of->help }}">{{ $of->label }} <select class="f !w-auto" id="{{ $of->id }}" name="{{ $of->name }}">
        @foreach ($of->choices as $choice => $label)
            <option value="{{ $choice }}" @selected($of->value === (string) $choice)>{{ $label }}</option>
        @endforeach
    </select></label>
@elseif ($of->isLines)
    <label class="flex items-start gap-1" title="{{ $of->help }}">{{ $of->label }} <textarea class="f !w-52" id="{{ $of->id }}" name="{{ $of->name }}"
        rows="{{ substr_count($of->value, "\n") + 1 }}" placeholder="{{ $of->example }}" spellcheck="false">{{ $of->value }}</textarea></label>
@else
    <label class="whitespace-nowrap" title="{{ $of->help }}">{{ $of->label }} <input class="f {{ $of->width }}" id="{{ $of->id }}"
        name="{{ $of->name }}" value="{{ $of->value }}" placeholder="{{ $of->example }}" spellcheck="false"></label>
@endif
