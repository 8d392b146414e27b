@props(['name', 'label', 'id' => null, 'value' => null])
@php($id ??= $name)
<div class="field">
    <label for="{{ $id }}">{{ $label }}</label>
    <input {{ $attributes->class('f') }} id="{{ $id }}" name="{{ $name }}" @if (is_string($value)) value="{{ $value }}" @endif
        @error($id) aria-invalid="true" aria-describedby="{{ $id }}-fault" @enderror>
    @error($id)<p class="fault" id="{{ $id }}-fault">{{ $message }}</p>@enderror
</div>
