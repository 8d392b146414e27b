@props(['run'])
<button type="button" class="btn small" id="stop-after" hx-post="{{ route('runs.stop', $run) }}" hx-swap="none"
    @disabled($run->stop_how !== null)>{{ $run->stop_how === 'after-page' ? 'Stops after this page' : 'Stop after this page' }}</button>
<button type="button" class="btn small" id="stop-now" hx-post="{{ route('runs.stop', ['run' => $run, 'now' => 1]) }}" hx-swap="none"
    @disabled($run->stop_how === 'now')>Stop now</button>
