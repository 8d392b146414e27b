<section class="mt-4" aria-labelledby="log-title">
    <div class="flex items-baseline gap-3">
        <h2 id="log-title">Log</h2>
        <nav class="levels" aria-label="How much of the log">
            @foreach (\App\Models\RunEvent::LEVELS as $number => $word)<a href="{{ route('runs.show', ['run' => $run, 'level' =>
                $number]) }}#log-title" @if ($number === $level) aria-current="true" @endif>{{ $number === 1 ? $word : "+ $word" }}</a>@endforeach
        </nav>
        @if ($events->hasMorePages() || $events->currentPage() > 1)<span
            class="s">newest first, {{ \App\View\Show::number($events->total()) }} lines</span>@endif
    </div>
    @if ($events->isEmpty())
        <p class="s mt-1">{{ $level === 1 && ! $run->state->isOver() ? 'Nothing yet: the outcome will stand here.' : 'Nothing at this level.' }}</p>
    @else
        <ol class="log mt-1">
            @foreach ($events as $event)
                @php($exchange = preg_match('/^#(\d+) (.*)$/sD', $event->text, $part) === 1 ? (int) $part[1] : null)
                <li class="l{{ $event->level }}"><time>{{ \App\View\Show::clock((int) $event->at) }}<small>.{{ sprintf('%03d', (int) (($event->at -
                    floor($event->at)) * 1000)) }}</small></time> <span class="kind">{{ $event->kind }}</span> <span>@if ($exchange !== null)<a
                    href="{{ route('runs.exchange', [$run, $exchange]) }}">{{ $part[2] }}</a>@else{{ $event->text }}@endif</span></li>
            @endforeach
        </ol>
        <x-pages :of="$events" one="line" />
    @endif
    @if ($level === 4 && ! $run->every_exchange)<p
        class="s mt-1">Only exchanges that failed are kept. Run it again with every exchange kept to see all of them.</p>@endif
</section>
