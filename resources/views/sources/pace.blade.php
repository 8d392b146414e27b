@php
    use App\View\Show;
    $pacing = new \DeepSpring\Pace\Pacing(\DeepSpring\Pace\Settings::of($definition['pace'] ?? []));
    $pace = app(\App\Pace\RateLimitStore::class)->state($source->id, $environment->id);
    $now = microtime(true);
    $breaker = $pace->breaker($now);
    $perMinute = $pacing->perMinute($pace, $now);
    $set = \DeepSpring\Pace\Settings::of($definition['pace'] ?? []);
    $readers = \Illuminate\Support\Facades\DB::table('pace_readers')->join('paces', 'paces.id', '=', 'pace_id')->where('source_id', $source->id)->where('environment_id', $environment->id)->where('seen_at', '>', $now - 20)->count();
@endphp
<div id="source-pace" @if ($oob ?? false) hx-swap-oob="true" @endif>
    @if ($breaker !== 'closed')
        <div class="diagnosis" role="status">
            <p><strong>{{ $source->name }} is left alone for now.</strong> It has failed since {{ \App\View\Show::clock((int)
                $pace->failingSince) }} {{ \App\View\Show::zone() }}, {{ Show::count($pace->failures, 'time') }} in a row. {{ $pace->lastFailure }}</p>
            <p class="mt-1">{{ $breaker === 'open' ? 'Runs wait until '.\App\View\Show::clock((int)
                $pace->openUntil).' '.\App\View\Show::zone().'; then one request looks whether it is back.' :
                'One request is looking whether it is back.' }} A try goes through at any time.</p>
            <form method="post" action="{{ route('sources.pace', $source) }}" class="mt-2">@csrf<button class="btn small"
                id="close-breaker">Let requests through again</button></form>
        </div>
    @elseif ($pace->pausedUntil > $now)
        <p class="note"><strong>Paused until {{ \App\View\Show::clock((int) $pace->pausedUntil) }} {{ \App\View\Show::zone() }}.</strong>
            {{ $pace->reason }}</p>
    @elseif ($perMinute !== null && $perMinute < ($set->perMinute ?? INF))
        <p class="note"><strong>Slowed to {{ round($perMinute) }} requests a minute.</strong> {{ $pace->reason }}</p>
    @elseif ($pacing->atOnce($pace) < $set->atOnce)
        <p class="note"><strong>Slowed to {{ Show::count($pacing->atOnce($pace), 'request') }} at once.</strong>
            {{ $pace->reason }} It goes back up by itself.</p>
    @endif
    <p class="s">{{ $perMinute === null ? 'Nothing limits the requests a minute' :
        round($perMinute).' requests a minute' }}, {{ $pacing->atOnce($pace) }} at once, all runs and people together. {{ $readers === 0 ?
        'Nobody reads from it now.' : Show::count($readers, 'reading is', 'readings are').' under way.' }}@if ($breaker === 'closed' &&
        $pace->failures > 0) {{ Show::count($pace->failures, 'failure') }} in a row so far. @endif</p>
</div>
