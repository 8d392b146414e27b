@if ($results->isNotEmpty())
    <details class="mt-4" id="run-checks" @if ($results->contains('outcome', \App\Models\CheckOutcome::Broken)) open @endif><summary class="s">Checks:
        {{ $results->where('outcome', \App\Models\CheckOutcome::Held)->count() }} of {{ $results->count() }} held</summary>
        <div class="rules mt-1">
        @foreach ($results as $one)
            <div class="rule"><p class="text-sm"><strong>{{ $one->words }}</strong> <span
                class="s">in <span class="m">{{ $one->table }}</span>, {{ \DeepSpring\Check\TableCheck::WORDS[$one->acts] }}</span></p>
                <div class="rule-happened">@include('checks.outcome', ['outcome' => $one->outcome, 'sentence' => $one->sentence, 'rows' =>
                    $one->concerned])</div></div>
        @endforeach
        </div>
    </details>
@endif
