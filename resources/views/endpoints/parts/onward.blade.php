@if ($sheet->failedAt() === 'onward')
    <x-diagnosis :of="$sheet->try->diagnosis" :try="$sheet->try" />
@endif
@php($ladder = $sheet->ladder())
@if ($ladder)
    @include('components.ladder', ['ladder' => $ladder])
    @if ($sheet->try->ended)<p class="s mt-1">{{ $sheet->try->ended }}</p>@endif
    @foreach (array_filter($sheet->try->notes ?? [], fn ($note) => $note['where'] === 'onward') as $note)
        <p class="note mt-1">{{ $note['what'] }} {{ $note['advice'] ?? '' }}</p>
    @endforeach
@endif
@php($suggestions = $sheet->suggestions())
@php($proposals = $suggestions->paging())
@php($refuted = $suggestions->refuted())
@if ($refuted !== [])
    <p class="s mt-1" id="refuted">Suggested as well, tried before, and did not work: {{ implode('; ', array_map(fn ($one) => $one->title(), $refuted)) }}.</p>
@endif
@if ($proposals === [] && $sheet->failedAt() === 'onward')
    <p class="s mt-1">The answer suggests no other way. Set it as the documentation of the service says.</p>
@endif
@if ($proposals !== [])
    <div class="proposals" id="proposals">
        <p class="s">{{ $sheet->failedAt() === 'onward' ? 'The first answer suggests' : 'There seems to be more. The first answer suggests' }}</p>
        @foreach (array_slice($proposals, 0, 3) as $number => $proposal)
            <div class="proposal">
                <p><strong>{{ \DeepSpring\Onward\Pagers::family()->kind($proposal->onward['style'])?->title }}</strong>
                    <code>{{ \App\Sources\AnswerSuggestions::inShort($proposal->onward) }}</code></p>
                <p>{{ $proposal->reason }}</p>
                <p class="s">What would prove it: {{ lcfirst($proposal->proof) }}</p>
                <p class="mt-1 flex gap-2">
                    <x-sheet.step :to="route('endpoints.try', [$source, $sheet->row])" do="onward" :with="['at' => (string) $number]"
                        class="btn small" id="take-{{ $number }}">Set it and ask for page 2</x-sheet.step>
                    <x-sheet.step :to="route('endpoints.update', [$source, $sheet->row])" do="onward" :with="['at' => (string) $number]"
                        class="link" id="set-{{ $number }}">Only set it</x-sheet.step>
                </p>
            </div>
        @endforeach
    </div>
@elseif (($sheet->endpoint['onward']['style'] ?? 'none') === 'none' && $sheet->try?->succeeded && count($sheet->records) >= 10)
    <p class="s mt-1">{{ \App\View\Show::count(count($sheet->records),
        'record') }} came, and nothing in the answer says that there are more. If the documentation does, set how to get the rest.</p>
@elseif (! $ladder)
    <p class="s">Each page will be a bar in time.</p>
@endif
@php($long = $sheet->row->lastLongTry($environment))
@if ($sheet->try?->succeeded && ($sheet->endpoint['onward']['style'] ?? 'none') !== 'none')
    <p class="mt-2 text-sm"><button type="button" class="link" id="prove" hx-post="{{ route('endpoints.prove', [$source, $sheet->row]) }}"
        hx-swap="none">Read all pages, and keep nothing</button>
    @if ($long)<span class="s">last time: <a href="{{ route('runs.show', $long) }}">{{ $long->state->isOver() ? mb_strimwidth((string)
        ($long->diagnosis['what'] ?? $long->ended), 0, 90, '…') : $long->state->label() }}</a>, {{ \App\View\Show::ago($long->created_at) }}</span>@endif</p>
@endif
