@if (is_string($tried))<p class="note" id="untried">{{ $tried }}</p>@else
    @foreach ($tried as $one)
        <div class="rule-happened" id="tried-{{ $one->number }}" hx-swap-oob="true">@include('checks.outcome', ['outcome' => $one->outcome, 'sentence' =>
            $one->sentence, 'rows' => $one->rows])</div>
    @endforeach
@endif
@if ($proposals !== [])
    <h2 class="text-sm">Proposed from the rows that are there</h2>
    <div class="rules">
    @foreach ($proposals as $one)
        @php($check = \DeepSpring\Check\Checks::all([$one->settings], $plan)[0])
        <div class="rule">
            <p class="text-sm"><strong>{{ $check->check->words() }}</strong>@if ($check->table !== $plan->table->name) <span class="s">in <span
                class="m">{{ $check->table }}</span></span>@endif
                @can('update', $source)<button class="btn small ml-2" name="proposal" value="{{ json_encode($one->settings) }}"
                    formaction="{{ route('endpoints.checks.update', [$source, $endpoint, 'do' => 'use']) }}"
                    aria-label="Add: {{ $check->check->words() }}">Add</button>@endcan</p>
            <p class="s">{{ $one->why }}</p>
        </div>
    @endforeach
    </div>
@endif
