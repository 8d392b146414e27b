@use('App\View\Markdown')
@use('App\View\Show')
@php($show = route('docs.show', $pane->source))
@php($with = fn (array $more): string => $show.'?'.http_build_query(array_filter(['endpoint' => $pane->slug, 'q' => $pane->search] + $more)))
@php($shown = $pane->shown())
@php($pages = $pane->pages())
<div class="docs-head">
    <h2>Documentation</h2>
    <form class="ml-auto" role="search" hx-get="{{ $show }}" hx-target="#docs" hx-trigger="input changed delay:300ms from:#docs-q, submit">
        <input type="hidden" name="endpoint" value="{{ $pane->slug }}"><label class="visually-hidden" for="docs-q">Find in the kept pages</label><input
        class="f" type="search" id="docs-q" name="q" value="{{ $pane->search }}" placeholder="search"></form>
    <button type="button" class="x" data-docs-close aria-label="Close the documentation">×</button>
</div>
@if ($pane->fault !== null)<p class="fault" role="alert">{{ $pane->fault }}</p>@endif
@if ($pane->links() !== [])
    <ul class="docs-links">@foreach ($pane->links() as $link)<li><a href="{{ $link['url'] }}" target="_blank"
        rel="noopener noreferrer">{{ $link['title'] }}</a></li>@endforeach</ul>
@endif
@foreach (array_filter([$pane->ofEndpoint()['notes'] ?? null, $pane->docs()['notes'] ?? null]) as $notes)
    <div class="doc docs-notes">{{ Markdown::html($notes, $pane->search) }}</div>
@endforeach
@if ($pages !== [])
    <nav class="docs-pages" aria-label="Kept pages">@foreach ($pages as $number => $one)<button type="button" id="docs-page-{{ $number }}" class="link"
        @if ($number === $shown) aria-current="true" @endif hx-get="{{ $with(['page' => $number]) }}"
        hx-target="#docs">{{ mb_strimwidth($one['title'], 0, 40, '…') }}@if ($pane->search !== '') <small>{{ Show::number($one['hits'])
        }}</small>@endif</button>@endforeach</nav>
@endif
@if ($shown !== null)
    <p class="s docs-of">@if ($pages[$shown]['url'] !== '')<a href="{{ $pages[$shown]['url'] }}" target="_blank"
        rel="noopener noreferrer">{{ Show::host($pages[$shown]['url']) }}</a> · @endif kept {{ substr($pages[$shown]['kept'], 0, 10) ?: 'by hand' }}
        @can('update', $pane->source)@if ($pages[$shown]['url'] !== '')· <button type="button" class="link" id="docs-again"
            hx-post="{{ route('docs.keep', $pane->source) }}" hx-vals="{{ json_encode(['page_text' => $pages[$shown]['url'], 'endpoint' => $pane->slug]) }}"
            hx-target="#docs">Fetch it again</button>@endif
        · <button type="button" class="link" id="docs-forget" hx-delete="{{ route('docs.forget', [$pane->source, $shown]) }}?endpoint={{ $pane->slug }}"
            hx-target="#docs">Remove it</button>@endcan</p>
    @if ($pane->search !== '' && $pages[$shown]['hits'] === 0)<p class="s">“{{ $pane->search }}” is on none of the pages.</p>@endif
    <div class="docs-put" id="docs-put" hidden><button type="button" class="btn small" data-docs-put>Put it into <span
        data-docs-field>the field</span></button></div>
    <div class="doc" id="docs-text" tabindex="0" role="region" aria-label="{{ $pages[$shown]['title'] }}">{{ $pane->text($shown) }}</div>
@elseif ($pane->links() === [] && ($pane->docs()['notes'] ?? '') === '')
    <p class="s">Nothing is kept yet. Give the address of the provider's documentation, or paste a page of it: it stands here beside the sheet, its
        values can be put into fields, its code made into endpoints, its tables into inputs.</p>
@endif
@can('update', $pane->source)
<details class="mt-3" @if ($pages === [] || isset($typed['page_text'])) open @endif><summary class="s">Keep a page</summary>
    <form hx-post="{{ route('docs.keep', $pane->source) }}" hx-target="#docs" hx-disabled-elt="find button">
        <input type="hidden" name="endpoint" value="{{ $pane->slug }}">
        <label class="s" for="docs-page-text">Its address, or the page itself</label>
        <textarea class="f" id="docs-page-text" name="page_text" rows="3" spellcheck="false"
            placeholder="https://docs.saltmarsh.example/loans">{{ $typed['page_text'] ?? '' }}</textarea>
        <div class="mt-1 flex gap-2"><input class="f" name="page_title" id="docs-page-title" aria-label="Title of a pasted page"
            placeholder="title, for what is pasted" value="{{ $typed['page_title'] ?? '' }}"><button class="btn small shrink-0">Keep it</button></div>
    </form>
</details>
@foreach (array_filter(['endpoint' => $pane->slug === '' ? null : $pane->ofEndpoint(), 'source' => $pane->docs()], is_array(...)) as $of => $docs)
<details class="mt-1" @if (($typed['of'] ?? '') === $of) open @endif><summary class="s">Links and notes of this {{ $of }}</summary>
    <form hx-post="{{ route('docs.update', $pane->source) }}" hx-target="#docs">
        <input type="hidden" name="endpoint" value="{{ $pane->slug }}"><input type="hidden" name="of" value="{{ $of }}">
        @php($mine = ($typed['of'] ?? '') === $of)
        <label class="s" for="docs-links-{{ $of }}">Links: one a line, the title after the address</label>
        <textarea class="f" id="docs-links-{{ $of }}" name="links" rows="2" spellcheck="false">{{ $mine ? $typed['links'] :
            \App\Http\Docs\DocsPane::typed($docs) }}</textarea>
        <label class="s" for="docs-notes-{{ $of }}">Notes, in Markdown</label>
        <textarea class="f" id="docs-notes-{{ $of }}" name="notes" rows="4">{{ "\n".($mine ? $typed['notes'] : $docs['notes'] ?? '') }}</textarea>
        <p class="mt-1"><button class="btn small">Keep links and notes</button></p>
    </form>
</details>
@endforeach
<form id="docs-endpoint" method="post" action="{{ route('sources.import', $pane->source) }}" hidden>@csrf<textarea name="start"></textarea></form>
@if ($pane->slug !== '')<span id="docs-fields" hidden><x-sheet.step :to="route('endpoints.update', [$pane->source, $pane->slug])"
    do="fields-of-table" id="docs-step">Take the fields</x-sheet.step></span>@endif
@endcan
