@props(['to', 'do' => null, 'with' => [], 'form' => 'sheet-form'])
{{-- A button that takes a named step with all that is typed, and gets the sheet anew. --}}
<button type="button" {{ $attributes }} hx-post="{{ $to }}" hx-include="#{{ $form }}" hx-target="#sheet" hx-swap="outerHTML"
    hx-vals="{{ json_encode((object) (($do === null ? [] : ['do' => $do]) + $with), JSON_INVALID_UTF8_SUBSTITUTE) }}">{{ $slot }}</button>
