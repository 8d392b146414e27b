@props(['of', 'id' => null])
<div @if ($id) id="{{ $id }}" @endif role="status">
    @foreach ($of as $sentence)
        <p class="fault mt-1">{{ ucfirst(trim($sentence)) }}</p>
    @endforeach
</div>
