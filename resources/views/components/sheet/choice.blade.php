@props(['to', 'options', 'value', 'do' => 'reshape', 'form' => 'sheet-form'])
{{-- A list to choose from, where what is chosen changes which fields the sheet has. --}}
<select {{ $attributes->class('f') }} hx-post="{{ $to }}" hx-include="#{{ $form }}" hx-target="#sheet" hx-swap="outerHTML"
    hx-trigger="change consume" hx-vals="{{ json_encode(['do' => $do]) }}">
    @foreach ($options as $option => $label)
        <option value="{{ $option }}" @selected((string) $option === $value)>{{ $label }}</option>
    @endforeach
</select>
