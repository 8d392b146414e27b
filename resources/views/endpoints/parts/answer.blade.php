@if ($sheet->failedAt() === 'answer')
    <x-diagnosis :of="$sheet->try->diagnosis" :try="$sheet->try" />
@endif
@foreach (array_filter($sheet->try?->notes ?? [], fn ($note) => $note['where'] !== 'onward') as $note)
    <div class="note"><strong>{{ $note['what'] }}</strong> {{ $note['advice'] }}</div>
@endforeach
@if ($sheet->canSuggest())
    <p class="mb-2" data-slow><x-sheet.step :to="route('endpoints.take', [$source, $sheet->row])" class="btn small" id="take">Suggest the rest from
        this answer</x-sheet.step> <span class="s">where the records are, how the list goes on, the columns</span></p>
@endif
@php($against = $sheet->againstSample())
@if ($sheet->answer->isSample)
    <div class="note"><strong>This is a sample.</strong>
        No real answer has confirmed it yet in {{ $environment->name }}; go on to Flatten, and try it when the service can be reached.</div>
@elseif ($against !== null && ($against['here'] !== [] || $against['there'] !== [] || $against['types'] !== []))
    <div class="note"><strong>The real answer differs from the sample.</strong>
        @if ($against['here'] !== [])<p>Only in the sample: <code>{{ implode(', ', array_slice($against['here'], 0, 8)) }}</code></p>@endif
        @if ($against['there'] !== [])<p>Only in the answer: <code>{{ implode(', ', array_slice($against['there'], 0, 8)) }}</code></p>@endif
        @foreach (array_slice($against['types'], 0, 6, true) as $path => [$left,
            $right])<p><code>{{ $path }}</code>: {{ $left }} in the sample, {{ $right }} in the answer</p>@endforeach
    </div>
@elseif ($against !== null)
    <p class="mb-1"><span class="tag g">as the sample</span> the real answer has the shape of the sample.</p>
@endif
@if ($sheet->answer->isThere)
    @php($wanted = $sheet->endpoint['answer']['records'] ?? $sheet->endpoint['answer']['rows']['data'] ?? null)
    @if ($sheet->failedAt() === 'ask' && ! $sheet->answer->isSample)
        <p class="s mb-1">What the service said with its {{ $sheet->first->status }}:</p>
    @elseif ($wanted !== null && $sheet->records === [])
        <div class="note"><strong>{{ $wanted }} finds nothing in this answer.</strong> Choose the array that holds the records below.</div>
    @else
        <p class="s mb-1">{{ $wanted === null ? 'The whole answer is one record. If the records are in an array, choose it.' :
            \App\View\Show::count($sheet->recordCount(), 'record').($sheet->answer->isSample ? ' in the sample' :
            ' in the first answer').($sheet->answer->isDigest ? ', of which '.\App\View\Show::number(count($sheet->records)).' are looked at here' : '') }}</p>
    @endif
    @php($found = $sheet->suggestions()->records())
    @if ($found !== [])
        <div class="proposals mb-2">@foreach ($found as $number => $one)<div class="proposal">{{ ucfirst($one->why) }}
            <code>{{ $one->answer['records'] ?? ($one->answer['rows']['data'] ?? '$') }}</code> <x-sheet.step
            :to="route('endpoints.update', [$source, $sheet->row])" do="records" :with="['at' => (string) $number]" class="btn small"
            id="records-{{ $number }}">Use this</x-sheet.step></div>@endforeach</div>
    @endif
    <div id="{{ $sheet->treeId() }}" hx-preserve>
        <div class="tree ev" tabindex="0" role="region" aria-label="The first answer as a tree">{{ $sheet->tree() }}</div>
        <div id="node-acts" role="status"></div>
    </div>
@elseif ($sheet->answer->isGone)
    <p class="s">The body of this answer was too large to be kept as evidence. Ask for fewer records at a time.</p>
@elseif ($sheet->first && ($sheet->first->status === 204 || $sheet->first->bytes === 0) && $sheet->first->error === null)
    <p class="s">The answer has no body, which is all that {{ $sheet->first->status }} says.</p>
@elseif ($sheet->first && $sheet->first->text() !== null && $sheet->first->text() !== '')
    <pre class="ev tall">{{ mb_strimwidth(mb_scrub($sheet->first->text(), 'UTF-8'), 0, 4000, '…', 'UTF-8') }}</pre>
@else
    <p class="s">The answer will be here as a tree, with counts.</p>
@endif
