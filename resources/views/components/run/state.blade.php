@props(['run', 'id' => null])
@php($class = ['done' => $run->isInDoubt() ? 'o' : 'g', 'failed' => 'i', 'stopped' => 'o'][$run->state->value] ?? '')
<span class="tag {{ $class }}" @if ($id) id="{{ $id }}" @endif>{{ $run->isInDoubt() ? 'done, in doubt' : $run->state->label() }}</span>
