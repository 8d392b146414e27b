@php($rows = $page->rows())
<div id="operations" class="choose" tabindex="0" role="region" aria-label="Operations">
    @forelse (collect($rows->items())->groupBy(fn ($one) => $one->group) as $group => $all)
    <details @if ($page->count() <= 60 || $page->isPaged() || $loop->first) open @endif data-group><summary><h2
        class="inline">{{ $group === '' ? 'Others' : $group }}</h2> <small>{{ count($all) }}</small></summary>
    <table class="rows"><tbody>
    @foreach ($all as $one)
        @php($e = $one->endpoint)
        @php($changes = $page->changes($one))
        <tr data-row data-text="{{ \App\Http\Sources\ImportPage::text($one) }}">
            <td class="w-6">@if ($page->canBeChosen($one))<input type="checkbox" value="{{ $one->slug() }}" data-choice autocomplete="off"
                aria-label="{{ $e['name'] }}"
                @checked($page->isChosenFirst($one))>@endif</td>
            <td class="m">{{ $one->method() }} {{ mb_strimwidth($e['ask']['path'], 0, 60, '…') }}</td>
            <td class="wrap">{{ $e['name'] }} @if ($one->isDeprecated)<span class="tag o">deprecated</span>@endif
                @if ($one->missing !== [])<span class="tag o">needs {{ implode(', ', $one->missing) }}</span>@endif
                @if ($one->base !== null)<span class="tag" title="{{ $one->base }}">at {{ \App\View\Show::host($one->base) }}</span>@endif
                @if ($one->refusal !== null)<p class="fault">Cannot be kept: {{ $one->refusal }}</p>@endif</td>
            <td><span class="tag">{{ \App\View\Show::ROLES[$e['does'] ?? 'list'] }}</span></td>
            <td class="s">{{ collect([count($e['ask']['inputs'] ?? []) === 0 ? null : \App\View\Show::count(count($e['ask']['inputs']),
                'input'), isset($e['flatten']) ? \App\View\Show::count(count($e['flatten']['columns']), 'column') : null, ['page' =>
                'page by page', 'cursor' => 'by cursor', 'next-link' => 'by link'][$e['onward']['style'] ?? 'none'] ??
                null])->filter()->join(', ') }}</td>
            <td>@if ($page->isThere($one))<span class="tag {{ $changes === [] ? 'g' : 'o' }}">{{ $changes === [] ? 'already added' :
                \App\View\Show::count(count($changes), 'change') }}</span>@endif</td>
        </tr>
    @endforeach
    </tbody></table></details>
    @empty
    <p class="s">No operation has all of these words in its path, name or tag.</p>
    @endforelse
    @if ($page->isPaged())
    <nav class="mt-2 flex flex-wrap items-center gap-3 text-sm" aria-label="Pages">
        <span class="s" role="status">{{ \App\View\Show::number($rows->firstItem() ?? 0) }}–{{ \App\View\Show::number($rows->lastItem() ??
            0) }} of {{ \App\View\Show::count($rows->total(), 'operation') }}</span>
        @if ($rows->previousPageUrl())<a href="{{ $rows->previousPageUrl() }}" id="operations-before" rel="prev" hx-get="{{ $rows->previousPageUrl() }}"
            hx-target="#operations" hx-swap="outerHTML show:top">Previous</a>@endif
        @if ($rows->nextPageUrl())<a href="{{ $rows->nextPageUrl() }}" id="operations-after" rel="next" hx-get="{{ $rows->nextPageUrl() }}"
            hx-target="#operations" hx-swap="outerHTML show:top">Next</a>@endif
        <button type="button" class="link" data-check="found" data-from="{{ route('imports.slugs', [$page->import, 'q' => $page->search]) }}">Choose
            all {{ \App\View\Show::number($rows->total()) }}</button>
    </nav>
    @endif
</div>
