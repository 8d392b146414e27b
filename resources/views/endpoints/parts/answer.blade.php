@if ($sheet->failedAt() === 'answer')
    <x-diagnosis :of="$sheet->try->diagnosis" :try="$sheet->try" />
@endif
@foreach ($sheet->try?->notes ?? [] as $note)
    <div class="note"><strong>{{ $note['what'] }}</strong> {{ $note['advice'] }}</div>
@endforeach
@if ($sheet->document !== null)
    @php($wanted = $sheet->endpoint['answer']['records'] ?? null)
    @if ($sheet->failedAt() === 'ask')
        <p class="s mb-1">What the service said with its {{ $sheet->first->status }}:</p>
    @elseif ($wanted !== null && $sheet->records === [])
        <div class="note"><strong>{{ $wanted }} finds nothing in this answer.</strong> Choose the array that holds the records below.</div>
    @else
        <p class="s mb-1">{{ $wanted === null ? 'The whole answer is one record. If the records are in an array, choose it.' : \App\View\Show::count(count($sheet->records), 'record').' in the first answer' }}</p>
    @endif
    <div class="tree ev" tabindex="0" role="region" aria-label="The first answer as a tree">{{ $sheet->tree() }}</div>
@elseif ($sheet->bodyIsGone)
    <p class="s">The body of this answer was too large to be kept as evidence. Ask for fewer records at a time.</p>
@elseif ($sheet->first && $sheet->first->text() !== null && $sheet->first->text() !== '')
    <pre class="ev tall">{{ mb_strimwidth(mb_scrub($sheet->first->text(), 'UTF-8'), 0, 4000, '…', 'UTF-8') }}</pre>
@else
    <p class="s">The answer will be here as a tree, with counts.</p>
@endif
