@php
    $definition = $sheet->definition;
    $environment = $sheet->environment;
    $try = $sheet->try;
    $exchange = $sheet->exchange;
    $where = $sheet->where();
    $own = $sheet->states[$environment->id] ?? null;
    $consent = session('consent');
    $save = route('sources.update', $source);
@endphp
<div id="sheet">
<div class="head">
    <div>
        <nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a></nav>
        <h1>{{ $source->name }}
            @if ($own)<span class="tag {{ $own->failingSince === null ? 'g' : ($own->words() === 'waits for consent' ? 'o' :
                'i') }}">{{ $own->failingSince === null ? "works in $environment->name" : "$environment->name: {$own->words()}" }}</span>@else<span
                class="tag">not tested in {{ $environment->name }}</span>@endif
            @foreach ($sheet->workspace as $one)@if ($one->id !== $environment->id && isset($sheet->states[$one->id]))<span
                class="tag {{ $sheet->states[$one->id]->failingSince === null ? 'g' : 'i' }}">{{ $sheet->states[$one->id]->failingSince === null ?
                "works in $one->name" : "$one->name: {$sheet->states[$one->id]->words()}" }}</span>@endif @endforeach
            <x-sheet.state id="source-state" :faults="$sheet->faults" :source="$source" />
        </h1>
    </div>
    <div class="acts" data-slow>
        <span class="s" data-waiting role="status"></span>
        <button type="button" class="btn" id="open-docs" data-quick hx-get="{{ route('docs.show', $source) }}" hx-target="#docs">Documentation</button>
        <a class="btn" href="{{ route('sources.versions', $source) }}">Versions</a>
        <a class="btn" href="{{ route('sources.file', $source) }}">Source file</a>
        <a class="btn" href="{{ route('sources.export', $source) }}">Export</a>
        @include('sources.publish', ['oob' => false])
        <button type="button" class="btn go" data-go hx-post="{{ route('sources.test', $source) }}" hx-target="#sheet" hx-swap="outerHTML"
            hx-disabled-elt="this">Test the source <span class="font-normal opacity-80">Ctrl ↵</span></button>
    </div>
</div>
<div class="cols"><div>What you set</div><div></div><div>What happened @if ($try)· {{ $try->endpoint_id === null ? 'one request to the base address' :
    'its test endpoint' }} in {{ $environment->name }}, {{ \App\View\Show::ago($try->created_at) }},
    {{ \App\View\Show::duration($try->milliseconds) }}@else · not tested yet
    @endif</div></div>
@error('source')<p class="diagnosis mx-6 mt-3">{{ $message }}</p>@enderror
@include('endpoints.parts.said')
@if ($trouble)<p class="diagnosis mx-6 mt-3" role="alert">{{ $trouble }}</p>@endif
<div id="elsewhere"></div>
<form id="source-form" hx-post="{{ route('sources.update', $source) }}" hx-trigger="change, submit, overtaken" hx-swap="none">
<x-sheet.seen :of="$sheet->file->document['source']" />
<div class="sheet">
    <div class="cell" data-stratum tabindex="-1">
        <div class="lab"><h2>Address</h2><small>one for each environment</small></div>
        <div class="pair wide mb-2"><label for="name">Name</label><input class="f" id="name" name="name" value="{{ $definition['name'] }}"></div>
        @foreach ($sheet->workspace as $one)
            <div class="pair wide mb-1">
                <label for="base-{{ $one->slug }}" @class(['font-bold' => $one->id === $environment->id])>{{ $one->name }}</label>
                <input class="f" id="base-{{ $one->slug }}" name="bases[{{ $one->slug }}]" value="{{ $definition['environments'][$one->slug]['base']
                    ?? '' }}" placeholder="none" aria-describedby="source-faults base-advice" spellcheck="false"
                    data-aside hx-post="{{ route('sources.address', $source) }}" hx-trigger="input changed delay:350ms" hx-target="#base-advice"
                        hx-swap="innerHTML" hx-params="bases[{{ $one->slug }}],field" hx-vals='{"field": "base-{{ $one->slug }}"}' hx-sync="this:replace">
            </div>
        @endforeach
        <div id="base-advice" role="status"></div>
        @include('sources.faults', ['oob' => false])
        @if ($sheet->copyFrom())
            <p class="mt-1 text-sm"><x-sheet.step :to="$save" form="source-form" do="copy" :with="['from' => $sheet->copyFrom()->slug]"
                class="link">Copy address and variables from {{ $sheet->copyFrom()->name }}</x-sheet.step>
                <small>secrets are not copied</small></p>
        @endif
        @php($variables = $definition['environments'][$environment->slug]['variables'] ?? [])
        @php($rows = collect(array_unique([...array_map(strval(...), array_keys($variables)), ...$sheet->wantedVariables()]))->map(fn ($name) =>
            [$name, $variables[$name] ?? ''])->values()->push(['', ''])->all())
        @if (isset($definition['environments'][$environment->slug]))
            <details class="mt-2" @if (count($rows) > 1) open @endif><summary class="s">Variables in {{ $environment->name }}: <code>{name}</code>
                stands for their value in headers and access</summary>
                <input type="hidden" name="variables_of" value="{{ $environment->slug }}">
                @foreach ($rows as $number => [$name, $value])
                    <div class="pair mt-1">
                        <input class="f" id="variable-{{ $number }}-name" name="variables[{{ $number }}][name]" value="{{ $name }}" placeholder="name"
                            aria-label="Name of variable {{ $number + 1 }}" spellcheck="false">
                        <input class="f" id="variable-{{ $number }}-value" name="variables[{{ $number }}][value]" value="{{ $value }}"
                            aria-label="Value of variable {{ $name ?: $number + 1 }}" spellcheck="false"><span></span>
                    </div>
                @endforeach
            </details>
        @endif
    </div>
    <div class="spine"><x-sheet.node :state="$sheet->node('address')" stratum="address" number="1" /></div>
    <div class="cell">
        @if ($try)
            @include('sources.stages')
            @foreach ($exchange?->timing['hops'] ?? [] as $hop)<p class="m">{{ $hop['status'] }} → {{ $hop['to'] }}</p>@endforeach
            @if ($where === 'address')<x-diagnosis :of="$try->diagnosis" :try="$try" sheet="source" />
                @if ($exchange?->error)<details><summary class="s">The raw error</summary><pre class="ev mt-1">{{ $exchange->error }}</pre></details>@endif
            @endif
            @include('sources.changed', ['oob' => false])
        @else
            <p class="s mb-2">Test the source: each step is ticked here with its time, and the first that fails says why.</p>
            @include('sources.adds', ['oob' => false])
            @include('sources.changed', ['oob' => false])
        @endif
    </div>

    <div class="cell" data-stratum tabindex="-1">
        @php($access = $definition['access'] ?? [])
        <div class="lab"><h2>Authentication</h2><small>{{ $access === [] ? 'not configured' : (count($access) === 1 ? 'one scheme' :
            count($access).' schemes, in this order') }}</small></div>
        @foreach ($access as $number => $scheme) @include('sources.scheme') @endforeach
        <div class="flex flex-wrap items-center gap-x-2 gap-y-1 text-sm">
            @foreach (['bearer' => 'Add a bearer token', 'api-key' => 'Add a key', 'basic' => 'Add user name and password'] as $kind => $label)
                <x-sheet.step :to="$save" form="source-form" do="add-scheme" :with="['scheme' => $kind]" class="link"
                    data-leads="fieldset.scheme">{{ $label }}</x-sheet.step><span
                    class="dim">·</span>
            @endforeach
            <details class="menu"><summary class="link">Other schemes</summary><div class="!left-0 !right-auto">
                @foreach (\App\Http\Sources\SchemeFields::others('bearer', 'api-key', 'basic') as $kind => $label)
                    <p><x-sheet.step :to="$save" form="source-form" do="add-scheme" :with="['scheme' => $kind]"
                        data-leads="fieldset.scheme">{{ $label }}</x-sheet.step></p>
                @endforeach
            </div></details>
        </div>
        <div id="secret-form" class="mt-3" data-enter="set-secret">
            @php($wanted = $sheet->wanted())
            @if ($wanted !== [])
                <div class="grid grid-cols-[1fr_150px] gap-x-3 gap-y-1">
                    <div><label class="s" for="secret_name">Value of</label><select class="f" id="secret_name" name="secret_name">
                        @foreach ($wanted as $one)<option @selected(request('secret') === $one || (request('secret') === null && !
                        isset($sheet->secrets[$one])))>{{ $one }}</option>@endforeach</select></div>
                    <div><label class="s" for="secret_ends">expires (optional)</label><input class="f" id="secret_ends" name="secret_ends" type="date"></div>
                    <div><label class="s" for="secret_value">in {{ $environment->name }}, never shown again</label><textarea class="f concealed block"
                        id="secret_value" name="secret_value" rows="1" autocomplete="off" spellcheck="false"></textarea></div>
                    <div class="self-end"><button type="button" class="btn" id="set-secret" hx-post="{{ route('sources.secret', $source) }}"
                        hx-include="#secret-form" hx-params="secret_name,secret_value,secret_ends" hx-target="#sheet" hx-swap="outerHTML"
                        hx-disabled-elt="this">Set</button></div>
                </div>
                <p class="s mt-1">One that replaces another is tested first; the old one stays until the service takes the new.</p>
            @endif
        </div>
    </div>
    <div class="spine"><x-sheet.node :state="$sheet->node('access')" stratum="access" number="2" /></div>
    <div class="cell">
        @if (is_array($consent))
            <x-diagnosis :of="$consent" />
        @elseif ($consent === true)
            <div class="note good" role="status"><strong>The service agreed.</strong> Test the source to see it work.</div>
        @endif
        @if (is_array($consent) && ($try?->diagnosis['code'] ?? '') === 'consent')
        @elseif ($try && $where === 'access')
            <x-diagnosis :of="$try->diagnosis" :try="$try" sheet="source" />
        @elseif ($try?->succeeded)
            <p>{{ $access === [] ? 'The service answers without authentication.' : 'Authenticated.' }}</p>
        @else
            <p class="s">Secrets are stored encrypted and never shown, exported or logged. The file of this source holds only their names.</p>
        @endif
        <x-tokens :of="$sheet->tokenExchanges" />
    </div>

    <div class="cell" data-stratum tabindex="-1">
        <div class="lab"><h2>Default headers</h2></div>
        @php($rows = collect($definition['headers'] ?? [])->map(fn ($value, $name) => [$name,
            \App\Http\Sources\SchemeFields::text($value)])->values()->push(['', ''])->all())
        @foreach ($rows as $number => [$name, $value])
            <div class="pair mb-1">
                <input class="f" id="header-{{ $number }}-name" name="headers[{{ $number }}][name]" value="{{ $name }}" placeholder="header"
                    aria-label="Header {{ $number + 1 }}">
                <input class="f" id="header-{{ $number }}-value" name="headers[{{ $number }}][value]" value="{{ $value }}"
                    aria-label="Value of header {{ $number + 1 }}">
                @if ($name !== '')<x-sheet.step :to="$save" form="source-form" do="reshape" :with="['headers['.$number.'][name]' => '']"
                    class="x" aria-label="Remove {{ $name }}">×</x-sheet.step>@endif
            </div>
        @endforeach
        <div class="mt-2 text-sm"><label>tested by <select class="f !w-auto" name="test"><option value="">the base address</option>
            @foreach (array_filter($sheet->file->endpoints(), fn ($one) => ! $one->does()->writes()) as $one)<option value="{{ $one->slug }}"
            @selected(($definition['test']['endpoint'] ?? '') === $one->slug)>{{ $one->name }}</option>@endforeach</select></label>
            <label class="mt-1 block"><input type="hidden" name="second_page_shown" value="1"><input type="checkbox" name="second_page" value="1"
            @checked($definition['test']['second_page'] ?? true)> when an endpoint that reads is added, ask for one page more to prove how its list
            goes on</label></div>
    </div>
    <div class="spine"><x-sheet.node :state="$sheet->node('request')" stratum="request" number="3" /></div>
    <div class="cell">
        @if ($try && in_array($where, ['ask', 'answer', 'onward'], true))<x-diagnosis :of="$try->diagnosis" :try="$try" sheet="source" />@endif
        @if ($exchange)
            <pre class="ev">{{ trim($exchange->request) }}</pre>
            <p class="mt-2">
                @if ($exchange->status !== null)<span class="tag {{ $try->succeeded ? 'g' : 'i' }}">{{ $exchange->status }}</span>@endif
                <a href="{{ route('tries.body', [$try, $exchange->number]) }}" target="_blank">The whole answer</a>
                    <small>{{ \App\View\Show::bytes($exchange->bytes) }}</small>
            </p>
            @if ($exchange->headers !== '')<details class="mt-1"><summary class="s">Headers of the answer</summary><pre
                class="ev mt-1">{{ trim($exchange->headers) }}</pre></details>@endif
        @else
            <p class="s">The request as it left will be here, secrets masked.</p>
        @endif
    </div>

    <div class="cell" data-stratum tabindex="-1">
        <div class="lab"><h2>Pace</h2><small>of all workers together</small></div>
        <div class="flex flex-wrap items-center gap-x-3 gap-y-2 text-sm">
            <label>at most <input class="f !w-16" id="per_minute" name="per_minute" value="{{ $definition['pace']['per_minute'] ?? '' }}"
                inputmode="numeric" placeholder="any"> requests a minute</label>
            <label><input class="f !w-12" id="at_once" name="at_once" value="{{ $definition['pace']['at_once'] ?? 4 }}" inputmode="numeric"> at once</label>
            <label>wait <input class="f !w-14" name="timeout" value="{{ $definition['pace']['timeout'] ?? 30 }}" inputmode="numeric">
                seconds for a response</label>
            <label>try <input class="f !w-12" name="tries" value="{{ $definition['pace']['tries'] ?? 5 }}" inputmode="numeric"> times</label>
            <label>give up after <input class="f !w-14" name="patience" value="{{ $definition['pace']['patience'] ?? (($definition['pace']['tries'] ??
                5) === 1 ? 0 : 180) }}" inputmode="numeric"> seconds</label>
        </div>
        <p class="s mt-1">What the service itself says of its limits is followed as well.</p>
    </div>
    <div class="spine"><x-sheet.node :state="$sheet->node('pace')" stratum="pace" number="4" /></div>
    <div class="cell">@include('sources.pace')</div>
</div>
</form>
<div class="sheet">
    <div class="cell last" data-stratum tabindex="-1">
        <div class="lab"><h2>Endpoints</h2><small>what can be asked</small></div>
        @php($endpoints = $sheet->file->endpoints())
        @if ($endpoints === [])
            <p class="mb-2">None yet. An endpoint is one path of the API, like <code>/loans</code>.</p>
        @else
            @php($sets = \DeepSpring\Ask\RecordSets::of($sheet->file->document['endpoints'] ?? []))
            @if (count($endpoints) > 12)<label class="visually-hidden" for="endpoint-filter">Search endpoints</label><input class="f mb-1"
                id="endpoint-filter" type="search" placeholder="search {{ count($endpoints) }} endpoints by path or name"
                data-filter="#endpoint-list [data-row]">@endif
            <div @if (count($endpoints) > 12) class="choose mb-2" tabindex="0" role="region" aria-label="Endpoints" @endif>
            <table class="rows mb-2" id="endpoint-list"><tbody>
            @foreach ($sets as $path => $set)
                @if (count($set['endpoints']) > 1)<tr data-row data-text="{{ mb_strtolower($path) }}">
                    <td colspan="3" class="pt-2"><code>{{ $path }}</code> @if ($set['missing'] !== [])<small>still missing:
                    @foreach ($set['missing'] as $role)<a href="{{ route('endpoints.create', [$source, 'does' => $role, 'from' =>
                    $set['endpoints'][0]['slug']]) }}">{{ \App\View\Show::ROLES[$role] }}</a>{{ $loop->last ? '' :
                    ', ' }}@endforeach</small>@endif</td></tr>@endif
                @foreach ($set['endpoints'] as $one)
                @php($does = (new \DeepSpring\SourceFile\EndpointDefinition($one))->does())
                <tr data-row data-text="{{ mb_strtolower($path.' '.($one['ask']['method'] ?? 'GET').' '.$one['ask']['path'].' '.$one['name']) }}">
                    <td @class(['pl-4' => count($set['endpoints']) > 1])><a
                    href="{{ route('endpoints.show', [$source, $one['slug']]) }}">{{ $one['name'] }}</a></td>
                    <td class="m">{{ $one['ask']['method'] ?? 'GET' }} {{ $one['ask']['path'] }}</td>
                    <td><span class="tag">{{ \App\View\Show::ROLES[$does->value] }}</span> <span
                    class="tag">{{ $does->writes() ? 'writes' : 'reads' }}</span></td></tr>
                @endforeach
            @endforeach
            </tbody></table></div>
        @endif
        @if (($definition['kind'] ?? 'rest') === 'odata')<a class="btn go" href="{{ route('services.show', $source) }}">Choose from what it offers</a> @endif
        @if ($sheet->answersWithData())<form method="post" action="{{ route('sources.endpoint', $source) }}" class="note mt-2">@csrf<p
            class="mb-1">What the base address answers can be an endpoint of its own: the last part of the address becomes its path.</p><button
            class="btn small">Make an endpoint of what it answers</button></form>@endif
        <a class="btn" href="{{ route('endpoints.create', $source) }}">Add endpoints</a>
        @if (($definition['kind'] ?? 'rest') !== 'odata')@php($speaks = preg_match('/^(?:odata-version|dataserviceversion):/mi', (string)
            $exchange?->headers) === 1)
        <form method="post" action="{{ route('services.read', $source) }}" @class(['mt-2' => true, 'note' => $speaks])>@csrf @if ($speaks)<p
            class="mb-1">The service speaks OData, so it can describe itself.</p><button
            class="btn small">Read its metadata</button>@else<small>Does it speak OData?</small> <button
            class="link text-sm">Read its metadata</button>@endif</form>@endif
    </div>
    <div class="spine"><span class="node no">5</span></div>
    <div class="cell last">
        @forelse ($sheet->kept as $table)
            <p><a class="m" href="{{ route('tables.show', $table->name) }}">{{ $table->name }}</a> <small>{{ \App\View\Show::count($table->rows,
                'row') }}, {{ \App\View\Show::ago($table->refreshed_at) }}</small></p>
        @empty
            <p class="s">Tables kept from this source in {{ $environment->name }} will be listed here.</p>
        @endforelse
        <details class="mt-4"><summary class="s">Delete this source</summary>
            <form method="post" action="{{ route('sources.destroy', $source) }}" class="mt-2">@csrf @method('delete')<p
                class="s mb-2">Its endpoints, secrets and evidence go with it. Not possible while it keeps tables.</p><button
                class="btn bad">Delete {{ $source->name }}</button></form>
        </details>
    </div>
</div>
</div>
