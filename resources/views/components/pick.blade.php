@props(['options', 'value'])
{{-- A list to choose from. --}}
<select {{ $attributes->class('f !w-auto') }}>
    @foreach ($options as $option => $label)
        <option value="{{ $option }}" @selected((string) $option === (string) $value)>{{ $label }}</option>
    @endforeach
</select>
