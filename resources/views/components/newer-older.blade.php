@props(['of'])
{{-- Pages of a list that only grows: nobody counts it. --}}
<nav class="mt-4 flex gap-4" aria-label="Pages">
    @if ($of->previousPageUrl())<a href="{{ $of->previousPageUrl() }}">Newer</a>@endif
    @if ($of->nextPageUrl())<a href="{{ $of->nextPageUrl() }}">Older</a>@endif
</nav>
