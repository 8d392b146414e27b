@php($bad = collect($checks)->filter(fn ($one) => $one->last->outcome !== \App\Models\CheckOutcome::Held)->count())
<details class="mb-3" id="checks" @if ($bad > 0) open @endif><summary class="s">Checks: {{ count($checks) - $bad }} of {{ count($checks) }} held in the
    last run</summary>
    <div class="rules mt-1">
    @foreach ($checks as $one)
        <div class="rule">
            <p class="text-sm"><strong>{{ $one->last->words }}</strong> <span class="s">{{ \DeepSpring\Check\TableCheck::WORDS[$one->last->acts] }}</span><br>
                <svg class="beats" width="{{ $one->width() }}" height="12" role="img" aria-label="{{ $one->words() }}">
                    @foreach ($one->beats() as $beat)<rect class="{{ $beat['outcome'] }}" x="{{ $beat['x'] + 0.5 }}" y="0.5" width="5"
                    height="11"><title>{{ $beat['title'] }}</title></rect>@endforeach</svg>
                <span class="s">{{ $one->words() }}</span></p>
            <div class="rule-happened">@include('checks.outcome', ['outcome' => $one->last->outcome, 'sentence' => $one->last->sentence, 'rows' =>
                $one->concerned()])
                <p class="s"><a href="{{ route('runs.show', $one->last->run_id) }}">run {{ $one->last->run_id }}</a>,
                    {{ \App\View\Show::ago($one->last->at) }}</p></div>
        </div>
    @endforeach
    </div>
    @can('view', $table->endpoint->source)<p class="mt-1 text-sm"><a href="{{ route('endpoints.checks', [$table->endpoint->source,
        $table->endpoint]) }}">See and change them</a></p>@endcan
</details>
