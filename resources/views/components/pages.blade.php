@props(['of', 'one' => 'row', 'many' => null])
@if ($of->hasPages() || $of->total() > 0)
<nav class="mt-2 flex gap-3 text-sm" aria-label="Pages">
    <span class="s">{{ \App\View\Show::number($of->firstItem() ?? 0) }}–{{ \App\View\Show::number($of->lastItem() ??
        0) }} of {{ \App\View\Show::count($of->total(), $one, $many) }}</span>
    @if ($of->previousPageUrl())<a href="{{ $of->previousPageUrl() }}" rel="prev">Previous</a>@endif
    @if ($of->nextPageUrl())<a href="{{ $of->nextPageUrl() }}" rel="next">Next</a>@endif
</nav>
@endif
