@php
    $o = $e['onward'] ?? ['style' => 'none'];
    $style = $o['style'];
    $field = fn (string $name, string $label, string $width = '!w-28', string $hint = '') => new \Illuminate\Support\HtmlString('<label class="whitespace-nowrap">'.e($label).' <input class="f '.$width.'" id="onward-'.$name.'" name="onward['.$name.']" value="'.e((string) (is_array($o[$name] ?? '') ? implode(' ', $o[$name]) : $o[$name] ?? '')).'" placeholder="'.e($hint).'" spellcheck="false"></label>');
    $choice = fn (string $name, string $label, array $options, string $usual) => new \Illuminate\Support\HtmlString('<label class="whitespace-nowrap">'.e($label).' <select class="f !w-auto" id="onward-'.$name.'" name="onward['.$name.']"'.($label === '' ? ' aria-label="where it is sent"' : '').'>'.collect($options)->map(fn ($text, $value) => '<option value="'.e($value).'"'.(($o[$name] ?? $usual) === $value ? ' selected' : '').'>'.e($text).'</option>')->join('').'</select></label>');
    $flag = fn (string $name, string $label) => new \Illuminate\Support\HtmlString('<label><input type="checkbox" id="onward-'.$name.'" name="onward['.$name.']" value="1"'.(($o[$name] ?? false) ? ' checked' : '').'> '.e($label).'</label>');
    $places = ['query' => 'in the query', 'body' => 'in the body'];
    $sized = in_array($style, ['page', 'offset', 'cursor', 'next-link', 'link-header'], true);
    $more = array_intersect_key($o, array_flip(['end_on', 'max_records', 'short_page_ends', 'any_origin', 'first_holds', 'method'])) !== [] || in_array($style, ['cursor', 'next-link', 'link-header'], true) && isset($o['total']);
@endphp
<div class="flex flex-wrap items-center gap-x-3 gap-y-2 text-sm">
    <label>The rest comes by <select class="f !w-auto" id="onward-style" name="onward[style]" {!! $structural !!} hx-trigger="change consume" hx-vals='{"do": "style"}'>
        @foreach (\DeepSpring\Onward\OnwardDefinition::STYLES as $one => $label)<option value="{{ $one }}" @selected($style === $one)>{{ $label }}</option>@endforeach
    </select></label>
    @if ($style === 'page')
        {{ $field('send_as', 'sent as') }} {{ $choice('in', '', $places, 'query') }} {{ $field('first', 'from', '!w-14', '1') }} {{ $field('pages', 'pages at', '!w-32', '$.pages') }} {{ $field('total', 'records at', '!w-32', '$.total') }}
    @elseif ($style === 'offset')
        {{ $field('send_as', 'sent as') }} {{ $choice('in', '', $places, 'query') }} {{ $field('first', 'from', '!w-14', '0') }} {{ $field('total', 'records at', '!w-32', '$.total') }}
    @elseif ($style === 'cursor')
        {{ $field('next', 'in the answer at', '!w-36') }} {{ $field('from_last', 'or in the last record at', '!w-24', '$.id') }} {{ $field('send_as', 'sent back as') }} {{ $choice('in', '', $places + ['header' => 'in a header'], 'query') }} {{ $field('more', 'while true', '!w-36', '$.has_more') }}
    @elseif ($style === 'next-link')
        {{ $field('link', 'found at', '!w-44') }}
    @elseif ($style === 'link-header')
        {{ $field('rel', 'with the relation', '!w-20', 'next') }}
    @elseif ($style === 'range')
        {{ $field('unit', 'of', '!w-24', 'items') }} {{ $field('size', 'at a time', '!w-16', '100') }}
    @elseif ($style === 'partition')
        {{ $field('list', 'listed at', '!w-44') }} {{ $field('value', 'by their', '!w-28', '$.number') }} {{ $field('send_as', 'sent as') }} {{ $choice('in', '', $places + ['header' => 'in a header', 'path' => 'in the path'], 'query') }}
    @elseif ($style === 'window')
        {{ $field('from_as', 'from sent as') }} {{ $field('to_as', 'to sent as') }} {{ $field('step', 'each', '!w-20', 'P1M') }} {{ $field('start', 'beginning', '!w-28', '2030-01-01') }} {{ $field('end', 'up to', '!w-28', 'now') }} {{ $choice('to_is', 'its end is', ['excluded' => 'not part of it', 'included' => 'part of it'], 'excluded') }}
    @endif
    @if ($sized){{ $field('size', 'at a time', '!w-16') }} {{ $field('size_as', 'asked for as', '!w-28', 'limit') }}@endif
    @if ($style !== 'none')<span class="whitespace-nowrap">{{ $field('max_pages', 'at most', '!w-16') }} pages</span>@endif
</div>
@if ($style === 'partition')
    <div class="mt-2 flex flex-wrap items-start gap-x-3 gap-y-2 text-sm">
        {{ $field('path', 'at another address', '!w-52', '/statements/{handle}') }} {{ $choice('method', 'by', ['' => 'the same method', 'GET' => 'GET', 'POST' => 'POST'], '') }}
        <label class="flex items-start gap-1">in which <textarea class="f !w-52" id="onward-take" name="onward[take]" rows="1" placeholder="handle: $.handle" spellcheck="false">{{ collect($o['take'] ?? [])->map(fn ($path, $name) => "$name: $path")->join("\n") }}</textarea></label>
        {{ $choice('first_holds', 'the first answer holds', ['first' => 'the first part', 'none' => 'only the list'], 'first') }}
    </div>
@elseif ($style === 'window')
    @php($inner = $o['inner'] ?? ['style' => 'none'])
    <div class="mt-2 flex flex-wrap items-center gap-x-3 gap-y-2 text-sm">
        <label>Within a window the rest comes by <select class="f !w-auto" id="onward-inner-style" name="onward[inner][style]" {!! $structural !!} hx-trigger="change consume" hx-vals='{"do": "style"}'>@foreach (array_intersect_key(\DeepSpring\Onward\OnwardDefinition::STYLES, array_flip(['none', 'page', 'offset', 'cursor', 'next-link', 'link-header'])) as $one => $label)<option value="{{ $one }}" @selected($inner['style'] === $one)>{{ $label }}</option>@endforeach</select></label>
        @foreach (['page' => ['send_as' => 'sent as', 'pages' => 'pages at', 'size' => 'at a time', 'size_as' => 'asked for as'], 'offset' => ['send_as' => 'sent as', 'size' => 'at a time', 'size_as' => 'asked for as'], 'cursor' => ['next' => 'in the answer at', 'send_as' => 'sent back as', 'more' => 'while true'], 'next-link' => ['link' => 'found at'], 'link-header' => ['rel' => 'with the relation']][$inner['style']] ?? [] as $name => $label)
            <label class="whitespace-nowrap">{{ $label }} <input class="f {{ $name === 'size' ? '!w-16' : '!w-28' }}" id="onward-inner-{{ $name }}" name="onward[inner][{{ $name }}]" value="{{ $inner[$name] ?? '' }}" spellcheck="false"></label>
        @endforeach
    </div>
@endif
@if ($sized)
    <details class="mt-1" @if ($more) open @endif><summary class="s">How it may end</summary>
        <div class="mt-1 flex flex-wrap items-center gap-x-3 gap-y-2 text-sm"><input type="hidden" name="onward[flags]" value="1">
            {{ $flag('short_page_ends', 'a page that is not full is the last') }}
            <span class="whitespace-nowrap">{{ $field('max_records', 'at most', '!w-20') }} records</span>
            @if (in_array($style, ['page', 'offset'], true)){{ $field('end_on', 'past the end it answers', '!w-16', '404') }}@endif
            @if (in_array($style, ['cursor', 'next-link', 'link-header'], true)){{ $field('total', 'how many there are stands at', '!w-36', '$.total or a header') }}@endif
            @if (in_array($style, ['next-link', 'link-header'], true)){{ $flag('any_origin', 'links may lead to another origin') }}@endif
        </div>
    </details>
@endif
