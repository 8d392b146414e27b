<span id="draft-state" @if ($oob) hx-swap-oob="true" @endif>@if ($sheet->faults !== [])<span
    class="tag i">not saved: {{ \App\View\Show::count(count($sheet->faults), 'thing') }} to mend</span>@elseif ($source->draft() !== null)<span
    class="tag o">{{ $source->published_version === null ? 'draft' : 'edits kept as draft' }}</span>@else<span
    class="tag g">version {{ $source->published_version }}</span>@endif</span>
