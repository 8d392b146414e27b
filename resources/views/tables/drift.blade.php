@if (count($drifts) > 0)
    <h2 class="mb-1">Drift <small class="font-normal">the answers are not what the columns were made for any more</small></h2>
@endif
@foreach ($drifts as $drift)
    <div class="note" data-drift="{{ $drift->kind->value }}">
        <p><strong>{{ ucfirst($drift->kind->value) }}</strong> {{ $drift->sentence }}@if ($drift->examples !== []) <span class="s">For example
            @foreach ($drift->examples as $example)<code>{{ $example }}</code>{{ $loop->last ? '' : ', ' }}@endforeach</span>@endif</p>
        @can('update', $drift->endpoint->source)
        <form method="post" action="{{ route('drifts.answer', $drift) }}" class="mt-1 flex flex-wrap gap-2">@csrf
            @foreach ($drift->kind->answers() as $answer)<button class="btn small" name="answer"
                value="{{ $answer }}">{{ ['add' => 'Add it', 'leave out' => 'Leave it out for good', 'change type' => 'Change the type', 'drop column'
                => 'Drop the column', 'accept' => 'Accept this change'][$answer] }}</button>@endforeach
            <span class="s">@if ($drift->run_id)seen by <a href="{{ route('runs.show', $drift->run_id) }}">run {{ $drift->run_id }}</a>@endif</span>
        </form>
        @endcan
    </div>
@endforeach
