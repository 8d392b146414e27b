<div id="confirm" class="note" role="alertdialog" aria-label="Send it?" hx-swap-oob="true">
    @php($path = $ask->definition->ask()->path)
    @php($given = collect($ask->definition->ask()->inputs)->filter(fn ($input) => $input->in === \DeepSpring\Ask\Place::Path)->map(fn ($input) =>
        implode(',', $input->chosen($ask->definition->ask()->tryValues()[$input->name] ?? null)))->filter()->join(', '))
    <strong>{{ \App\View\Show::whatItDoes($does, $path, $given) }} at {{ $source->name }}, in {{ $ask->environment->name }}.</strong>
    <p class="m mt-1">{{ strtok($ask->text, "\n") }}</p>
    <p class="s">{{ $hasKey ? 'It carries an idempotency key, so it is sent again by itself when the connection fails.' :
        'It is sent once, and never again by itself.' }}</p>
    <p class="mt-2" data-slow><button type="button" class="btn go" data-focus data-confirm
        hx-post="{{ route('endpoints.try', [$source, $ask->row]) }}" hx-include="#sheet-form" hx-vals='{"confirmed": "1"}' hx-swap="none"
        hx-disabled-elt="this">Send it once</button> <button type="button" class="btn" data-clear="confirm">Not now</button></p>
</div>
