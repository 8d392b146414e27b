@php
    $faultsAt = fn (string $prefix) => \App\Http\Sheets\SourceForm::faultsAt($faults, $prefix);
    $exchange = $try?->succeeded ? $try->exchanges->first() : $try?->exchanges->last();
    $where = $try?->diagnosis['where'] ?? null;
    $node = fn (string $stratum) => $try === null ? 'no' : ($try->succeeded ? 'ok' : match (true) {
        $stratum === 'address' => $where === 'address' || $exchange?->status === null ? 'bad' : 'ok',
        $stratum === 'access' => $where === 'access' ? 'bad' : ($where === 'address' ? 'no' : 'ok'),
        default => $where === 'address' || $where === 'access' ? 'no' : 'bad',
    });
@endphp
<div id="sheet">
<div class="head">
    <div>
        <nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a></nav>
        <h1>{{ $source->name }}
            @if ($try?->succeeded)<span class="tag g">works in {{ $environment->name }}</span>@elseif ($try)<span class="tag i">fails in {{ $environment->name }} since {{ $try->created_at->format('Y-m-d H:i') }}</span>@else<span class="tag">not tested in {{ $environment->name }}</span>@endif
            @include('sources.state', ['oob' => false])
        </h1>
    </div>
    <div class="acts" data-slow>
        <span class="s" data-waiting role="status"></span>
        <a class="btn" href="{{ route('sources.file', $source) }}">Source file</a>
        <a class="btn" href="{{ route('sources.export', $source) }}">Export</a>
        @include('sources.publish', ['oob' => false])
        <button type="button" class="btn go" data-go hx-post="{{ route('sources.test', $source) }}" hx-target="#sheet" hx-swap="outerHTML" hx-disabled-elt="this">Test the source <span class="font-normal opacity-80">Ctrl ↵</span></button>
    </div>
</div>
<div class="cols"><div>What you set</div><div></div><div>What happened @if ($try)· {{ $try->endpoint_id === null ? 'one request to the base address' : 'its test endpoint' }}, {{ \App\View\Show::ago($try->created_at) }}, {{ \App\View\Show::duration($try->milliseconds) }}@else · not tested yet @endif</div></div>
@error('source')<p class="diagnosis mx-6 mt-3">{{ $message }}</p>@enderror
<form id="source-form" hx-post="{{ route('sources.update', $source) }}" hx-trigger="change, submit, overtaken" hx-swap="none">
<div class="sheet">
    <div class="cell" data-stratum tabindex="-1">
        <div class="lab"><h2>Address</h2><small>one for each environment</small></div>
        <div class="pair wide mb-2"><label for="name">Name</label><input class="f" id="name" name="name" value="{{ $definition['name'] }}"></div>
        @foreach ($workspace as $one)
            <div class="pair wide mb-1">
                <label for="base-{{ $one->slug }}" @class(['font-bold' => $one->id === $environment->id])>{{ $one->name }}</label>
                <input class="f" id="base-{{ $one->slug }}" name="bases[{{ $one->slug }}]" value="{{ $definition['environments'][$one->slug]['base'] ?? '' }}" placeholder="none" aria-describedby="source-faults">
            </div>
        @endforeach
        @include('sources.faults', ['oob' => false])
    </div>
    <div class="spine"><span class="node {{ $node('address') }}">1</span></div>
    <div class="cell">
        @if ($exchange)
            @php($t = $exchange->timing)
            <svg width="660" height="34" role="img" aria-label="Time of each phase: name {{ $t['name'] }} ms, connect {{ $t['connect'] }} ms, first byte {{ $t['firstByte'] }} ms">
                @php($whole = max(1, $t['name'] + $t['connect'] + $t['tls'] + $t['firstByte']))
                @php($x = 0)
                @foreach (['name' => 'name', 'connect' => 'connect', 'tls' => 'TLS', 'firstByte' => 'first byte'] as $key => $label)
                    @if ($t[$key] > 0 || $key === 'firstByte')
                        @php($w = max(72, 420 * $t[$key] / $whole))
                        <text x="{{ $x }}" y="11" font-size="12" fill="#12282b">{{ $label }} {{ \App\View\Show::duration($t[$key]) }}</text>
                        <rect x="{{ $x }}" y="18" width="{{ $w - 4 }}" height="12" rx="2" @if ($exchange->status === null) fill="none" stroke="#a33b2a" stroke-dasharray="3 2" @else fill="#176b74" @endif />
                        @php($x += $w + 24)
                    @endif
                @endforeach
            </svg>
            <p class="s mt-1">@if ($t['address'] !== '')reached {{ $t['address'] }} · @endif{{ $exchange->status !== null ? \App\View\Show::bytes($exchange->bytes) : 'no answer' }}</p>
        @endif
        @if ($try && in_array($where, ['address', 'ask', 'answer', 'onward'], true))<x-diagnosis :of="$try->diagnosis" />
            @if ($exchange?->error)<details><summary class="s">The raw error</summary><pre class="ev mt-1">{{ $exchange->error }}</pre></details>@endif
        @endif
        @unless ($try)<p class="s">Test the source: it shows here where the address leads, and how long each step took.</p>@endunless
    </div>

    <div class="cell" data-stratum tabindex="-1">
        <div class="lab"><h2>Who is asking</h2><small>{{ match (count($definition['access'] ?? [])) { 0 => 'nobody says so yet', 1 => 'one scheme', default => count($definition['access']).' schemes, in this order' } }}</small></div>
        @foreach (array_values($definition['access'] ?? []) as $number => $scheme)
            <fieldset class="mb-2 rounded-md border border-seam bg-chalk px-3 py-2">
                <legend class="visually-hidden">Scheme {{ $number + 1 }}</legend>
                <div class="flex items-center gap-2">
                    <strong>{{ ['basic' => 'User name and password', 'bearer' => 'Bearer token', 'api-key' => 'Key', 'none' => 'Nothing'][$scheme['scheme']] }}</strong>
                    <input type="hidden" name="access[{{ $number }}][scheme]" value="{{ $scheme['scheme'] }}">
                    <button type="button" class="x ml-auto" aria-label="Remove this scheme" hx-post="{{ route('sources.update', $source) }}" hx-target="#sheet" hx-swap="outerHTML" hx-include="#source-form" hx-vals='{"do": "remove", "access[{{ $number }}][scheme]": "none"}'>×</button>
                </div>
                <div class="mt-1 flex flex-wrap items-center gap-2 text-sm">
                    @if ($scheme['scheme'] === 'api-key')
                        <label>in <select class="f !w-auto" name="access[{{ $number }}][in]">@foreach (['header', 'query', 'cookie'] as $place)<option @selected($scheme['in'] === $place)>{{ $place }}</option>@endforeach</select></label>
                        <label>named <input class="f !w-40" name="access[{{ $number }}][name]" value="{{ $scheme['name'] }}"></label>
                        <label>prefix <input class="f !w-20" name="access[{{ $number }}][prefix]" value="{{ $scheme['prefix'] ?? '' }}"></label>
                    @elseif ($scheme['scheme'] === 'bearer')
                        <label>prefix <input class="f !w-24" name="access[{{ $number }}][prefix]" value="{{ $scheme['prefix'] ?? 'Bearer' }}"></label>
                    @endif
                    @if ($scheme['scheme'] === 'basic' && is_string($scheme['username']))<label>name <input class="f !w-40" name="access[{{ $number }}][username]" value="{{ $scheme['username'] }}"></label>@endif
                    @foreach (['username', 'password', 'token', 'value'] as $field)
                        @if (is_array($scheme[$field] ?? null))
                            @if ($field !== 'username')<input type="hidden" name="access[{{ $number }}][{{ $field }}]" value="{{ $scheme[$field]['secret'] }}">@endif
                            @php($secret = $secrets[$scheme[$field]['secret']] ?? null)
                            <span>{{ ['value' => 'key', 'username' => 'user name'][$field] ?? $field }} <code>{{ $scheme[$field]['secret'] }}</code>:
                                @if ($secret)<span class="m">••••••</span> <small>set {{ $secret->setBy ? "by {$secret->setBy->name}, " : '' }}{{ $secret->updated_at->format('Y-m-d H:i') }}</small>@else<span class="tag o">no value in {{ $environment->name }}</span>@endif
                            </span>
                        @endif
                    @endforeach
                </div>
            </fieldset>
        @endforeach
        <div class="flex gap-2 text-sm">
            @foreach (['bearer' => 'Add a bearer token', 'api-key' => 'Add a key', 'basic' => 'Add user name and password'] as $kind => $label)
                <button type="button" class="link" hx-post="{{ route('sources.update', $source) }}" hx-include="#source-form" hx-target="#sheet" hx-swap="outerHTML" hx-vals='{"do": "add-scheme", "scheme": "{{ $kind }}"}'>{{ $label }}</button>@unless ($loop->last)<span class="dim">·</span>@endunless
            @endforeach
        </div>
        <div id="secret-form" class="mt-3 flex items-end gap-2">
            @php($wanted = $file->secretNames())
            @if ($wanted !== [])
                <div class="flex-1"><label class="s" for="secret_name">Value of</label><select class="f" id="secret_name" name="secret_name">@foreach ($wanted as $one)<option @selected(! isset($secrets[$one]))>{{ $one }}</option>@endforeach</select></div>
                <div class="flex-[2]"><label class="s" for="secret_value">in {{ $environment->name }}, never shown again</label><input class="f" id="secret_value" name="secret_value" type="password" autocomplete="off"></div>
                <button type="button" class="btn" hx-post="{{ route('sources.secret', $source) }}" hx-include="#secret-form" hx-params="secret_name,secret_value" hx-target="#sheet" hx-swap="outerHTML">Set</button>
            @endif
        </div>
    </div>
    <div class="spine"><span class="node {{ $node('access') }}">2</span></div>
    <div class="cell">
        @if ($try && $where === 'access')
            <x-diagnosis :of="$try->diagnosis" />
            @if ($exchange?->header('www-authenticate'))<p class="m">www-authenticate: {{ $exchange->header('www-authenticate') }}</p>@endif
        @elseif ($try?->succeeded)
            <p>{{ ($definition['access'] ?? []) === [] ? 'The service answers without being told who asks.' : 'The service knows who is asking.' }}</p>
        @else
            <p class="s">Secrets are stored encrypted and never shown, exported or logged. The file of this source holds only their names.</p>
        @endif
    </div>

    <div class="cell" data-stratum tabindex="-1">
        <div class="lab"><h2>With every request</h2></div>
        @php($rows = collect($definition['headers'] ?? [])->map(fn ($value, $name) => [$name, $value])->values()->push(['', ''])->all())
        @foreach ($rows as $number => [$name, $value])
            <div class="pair mb-1">
                <input class="f" name="headers[{{ $number }}][name]" value="{{ $name }}" placeholder="header" aria-label="Header {{ $number + 1 }}">
                <input class="f" name="headers[{{ $number }}][value]" value="{{ $value }}" aria-label="Value of header {{ $number + 1 }}">
                @if ($name !== '')<button type="button" class="x" aria-label="Remove {{ $name }}" hx-post="{{ route('sources.update', $source) }}" hx-include="#source-form" hx-target="#sheet" hx-swap="outerHTML" hx-vals='{"do": "remove", "headers[{{ $number }}][name]": ""}'>×</button>@endif
            </div>
        @endforeach
        <div class="mt-2 flex items-center gap-2 text-sm"><label>wait <input class="f !w-16" name="timeout" value="{{ $definition['pace']['timeout'] ?? 30 }}" inputmode="numeric"> s</label> <label>try <input class="f !w-14" name="tries" value="{{ $definition['pace']['tries'] ?? 5 }}" inputmode="numeric"> times</label></div>
    </div>
    <div class="spine"><span class="node {{ $node('request') }}">3</span></div>
    <div class="cell">
        @if ($exchange)
            <pre class="ev">{{ trim($exchange->request) }}</pre>
            <p class="mt-2">
                @if ($exchange->status !== null)<span class="tag {{ $try->succeeded ? 'g' : 'i' }}">{{ $exchange->status }}</span>@endif
                <a href="{{ route('tries.body', [$try, $exchange->number]) }}" target="_blank">The whole answer</a>
            </p>
            @if ($exchange->headers !== '')<details class="mt-1"><summary class="s">Headers of the answer</summary><pre class="ev mt-1">{{ trim($exchange->headers) }}</pre></details>@endif
        @else
            <p class="s">The request as it leaves will be here, secrets masked.</p>
        @endif
    </div>
</div>
</form>
<div class="sheet">
    <div class="cell last" data-stratum tabindex="-1">
        <div class="lab"><h2>Endpoints</h2><small>what can be asked</small></div>
        @php($endpoints = $file->endpoints())
        @if ($endpoints === [])
            <p class="mb-2">None yet. An endpoint is one path of the API, like <code>/loans</code>.</p>
        @else
            <table class="rows mb-2"><tbody>
            @foreach ($endpoints as $one)
                <tr><td><a href="{{ route('endpoints.show', [$source, $one->slug]) }}">{{ $one->name }}</a></td><td class="m">{{ $one->endpoint['ask']['method'] ?? 'GET' }} {{ $one->endpoint['ask']['path'] }}</td><td><span class="tag">reads</span></td></tr>
            @endforeach
            </tbody></table>
        @endif
        <a class="btn" href="{{ route('endpoints.create', $source) }}">Add an endpoint</a>
    </div>
    <div class="spine"><span class="node no">4</span></div>
    <div class="cell last">
        @php($kept = \App\Models\KeptTable::query()->whereIn('endpoint_id', $source->endpoints->pluck('id'))->where('environment_id', $environment->id)->orderBy('name')->get())
        @forelse ($kept as $table)
            <p><a class="m" href="{{ route('tables.show', $table->name) }}">{{ $table->name }}</a> <small>{{ \App\View\Show::count($table->rows, 'row') }}, {{ \App\View\Show::ago($table->refreshed_at) }}</small></p>
        @empty
            <p class="s">Tables kept from this source in {{ $environment->name }} will be listed here.</p>
        @endforelse
        <details class="mt-4"><summary class="s">Delete this source</summary>
            <form method="post" action="{{ route('sources.destroy', $source) }}" class="mt-2">@csrf @method('delete')<p class="s mb-2">Its endpoints, secrets and evidence go with it. Not possible while it keeps tables.</p><button class="btn bad">Delete {{ $source->name }}</button></form>
        </details>
    </div>
</div>
</div>
