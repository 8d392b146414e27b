@foreach ($offered as $alias => $names)<optgroup label="{{ $alias }}">@foreach ($names as $value => $name)<option
    value="{{ $value }}">{{ $name }}</option>@endforeach</optgroup>@endforeach
