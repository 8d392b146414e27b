@props(['id', 'faults', 'source', 'oob' => false])
<span id="{{ $id }}" @if ($oob) hx-swap-oob="true" @endif>@if ($faults !== [])<span
    class="tag i">not saved: {{ \App\View\Show::count(count($faults), 'fault') }}</span>@elseif ($source->draft() !== null)<span
    class="tag o">{{ $source->published_version === null ? 'draft' : 'edits kept as draft' }}</span>@else<span
    class="tag g">version {{ $source->published_version }}</span>@endif</span>
