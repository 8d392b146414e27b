@php
    $e = $sheet->endpoint;
    $save = route('endpoints.update', [$source, $sheet->row]);
    $kept = $sheet->kept();
@endphp
<div id="sheet">
<div class="head">
    <div>
        <nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a> › <a
            href="{{ route('sources.show', $source) }}">{{ $source->name }}</a> › Endpoints</nav>
        <h1><label class="visually-hidden" for="name">Name of this endpoint</label><span id="endpoint-name">{{ $e['name'] }}</span> <span
            class="tag">{{ $sheet->definition->does()->writes() ? 'writes' : 'reads' }}</span>
            <x-sheet.state id="draft-state" :faults="$sheet->faults" :source="$source" /></h1>
    </div>
    <div class="acts" data-slow>
        <span class="s" data-waiting role="status" @if ($sheet->usual() !== null) data-usual="{{ \App\View\Show::duration($sheet->usual()) }}" @endif></span>
        <button type="button" class="btn" id="open-docs" data-quick hx-get="{{ route('docs.show', [$source, 'endpoint' => $sheet->row->slug]) }}"
            hx-target="#docs">Documentation</button>
        <button type="button" class="btn" data-stop="{{ route('endpoints.stop', $source) }}" hidden>Stop</button>
        <details class="menu"><summary class="btn">More</summary><div>
            <p><label class="s" for="name">Name</label><input class="f" id="name" name="name" form="sheet-form" value="{{ $e['name'] }}"></p>
            <p class="mt-2"><a href="{{ route('endpoints.tries', [$source, $sheet->row]) }}">All tries</a></p>
            <p class="mt-2"><a href="{{ route('sources.versions', $source) }}">Versions</a></p>
            <p class="mt-2"><a href="{{ route('sources.file', $source) }}">Source file</a></p>
            @if ($environments->count() > 1)<p class="mt-2"><a href="{{ route('endpoints.compare', [$source,
                $sheet->row]) }}">Compare environments</a></p>@endif
            <form method="post" action="{{ route('endpoints.destroy', [$source, $sheet->row]) }}"
                class="mt-2">@csrf @method('delete')<button>Delete this endpoint</button></form>
        </div></details>
        <button type="button" class="btn go" data-go hx-post="{{ route('endpoints.try', [$source, $sheet->row]) }}" hx-include="#sheet-form"
            hx-swap="none" hx-disabled-elt="this">Try it <span class="font-normal opacity-80">Ctrl ↵</span></button>
    </div>
</div>
<div class="cols"><div>What you set</div><div></div><div id="happened-head">@include('endpoints.parts.head')</div></div>
@include('endpoints.parts.said')
<div id="overview">@include('endpoints.parts.overview')</div>
<div id="elsewhere"></div>
<form id="sheet-form" hx-post="{{ $save }}" hx-trigger="change, submit, overtaken" hx-swap="none">
<div hx-post="{{ route('endpoints.preview', [$source, $sheet->row]) }}" data-quiet hx-trigger="input from:#sheet-form delay:180ms"
    hx-include="#sheet-form" hx-swap="none" hx-sync="this:replace"></div>
<x-sheet.seen :of="$sheet->endpoint" />
<div class="sheet">
    <section class="cell" data-stratum tabindex="-1" aria-label="Ask">
        @php($does = $sheet->definition->does())
        @php($ask = $e['ask'])
        @php($refused = $sheet->refusedInputs())
        <div class="lab"><h2>Ask</h2><small>{{ $does->writes() ? 'one request that changes something' : 'one request for records' }}</small></div>
        @if (isset($e['entity_set']) || isset($e['operation']))
            <p class="chosen">@if (isset($e['operation']))The {{ $does->writes() ? 'action' : 'function' }} <code>{{ substr($e['operation'], (int)
                strrpos('.'.$e['operation'], '.')) }}</code>@if (isset($e['entity_set'])) of <a
                href="{{ route('services.set', [$source, $e['entity_set']]) }}">{{ $e['entity_set'] }}</a>@endif @else From <a
                href="{{ route('services.set', [$source, $e['entity_set']]) }}">{{ $e['entity_set'] }}</a>@if ($does ===
                \DeepSpring\Ask\EndpointRole::List): <a
                href="{{ route('endpoints.choice', [$source,
                $sheet->row]) }}">choose columns, rows and related sets</a>@endif{{ '' }}@endif{{ '. ' }}
                What follows from that stands below, and can be changed.</p>
        @endif
        <div class="mb-2 flex items-center gap-2">
            <label class="visually-hidden" for="does">What it does</label>
            <x-sheet.choice class="!w-24 flex-none" id="does" name="does" :to="$save" do="does" :options="\App\View\Show::ROLES" :value="$does->value" />
            <label class="visually-hidden" for="method">Method</label>
            <select class="f !w-20 flex-none" id="method" name="method">
                @foreach (array_unique([...\DeepSpring\Ask\Method::USUAL, $ask['method'] ?? 'GET']) as $method)<option
                    @selected(($ask['method'] ?? 'GET') === $method)>{{ $method }}</option>@endforeach</select>
            <label class="visually-hidden" for="path">Path</label>
            <input class="f" id="path" name="path" value="{{ $ask['path'] ?? '/' }}" spellcheck="false">
        </div>
        @php($own = $ask['base'][$environment->slug] ?? '')
        <details class="mb-2 text-sm" id="own-base" @if ($own !== '') open @endif><summary class="s">{{ $own === '' ?
            'At the address of the source' : 'At an address of its own' }}</summary>
            <label class="mt-1 flex items-center gap-2">Base address in {{ $environment->name }} <input class="f" id="base"
                name="base[{{ $environment->slug }}]" value="{{ $own }}" placeholder="{{ $sheet->file->source()->base($environment->slug) }}"
                spellcheck="false"></label>
            <label class="mt-1 flex items-center gap-2"><input type="checkbox" id="base_access" name="base_access" value="1"
                @checked(($ask['access'] ?? 'none') === 'source')> Send the authentication of the source there as well, where it is another
                server</label>
        </details>
        <div class="in-edit">
            <span class="h">Input</span><span class="h">In</span><span class="h">Type</span><span class="h">Test value</span><span
                class="h">Supplied by</span><span></span><span></span>
            @foreach (array_values($ask['inputs'] ?? []) as $i => $input)
                @php($fixed = array_key_exists('fixed', $input))
                @php($value = $fixed ? $input['fixed'] : ($input['try'] ?? ''))
                @php($shown = \App\Http\Endpoints\InputForm::written(...))
                @php($type = $input['type'] ?? 'text')
                <input type="hidden" name="inputs[{{ $i }}][was]" value="{{ $i }}">
                <input class="f" id="in-{{ $i }}-name" name="inputs[{{ $i }}][name]" value="{{ $input['name'] }}"
                    aria-label="Name of input {{ $i + 1 }}" @if (isset($input['about'])) title="{{ $input['about'] }}" @endif spellcheck="false">
                <select class="f" id="in-{{ $i }}-in" name="inputs[{{ $i }}][in]" aria-label="Where {{ $input['name'] }} goes">
                    @foreach (['path', 'query', 'header', 'cookie', 'body'] as $place)<option @selected($input['in'] === $place)>{{ $place }}</option>
                    @endforeach</select>
                <select class="f" id="in-{{ $i }}-type" name="inputs[{{ $i }}][type]" aria-label="Type of {{ $input['name'] }}">
                    @foreach (['text', 'integer', 'number', 'boolean', 'date', 'datetime', 'json', 'file'] as $one)<option
                    @selected($type === $one)>{{ $one }}</option>@endforeach</select>
                @if ($type === 'file')
                    @php($file = is_string($value) ? \DeepSpring\Ask\File::of($value) : null)
                    <span class="min-w-0 truncate text-sm"><input type="hidden" id="in-{{ $i }}-value" name="inputs[{{ $i }}][value]"
                        value="{{ $value }}"><input type="file" class="visually-hidden" id="in-{{ $i }}-file" data-file-for="in-{{ $i }}-value"
                        data-most="262144"><label class="link" for="in-{{ $i }}-file"
                        tabindex="0">{{ $file ? $file->name.', '.\App\View\Show::bytes(strlen($file->content)) : 'choose a file' }}</label></span>
                @elseif (isset($input['choices']) && ! isset($input['many']))
                    <select class="f" id="in-{{ $i }}-value" name="inputs[{{ $i }}][value]" aria-label="Value of {{ $input['name'] }}"
                        @if (isset($sheet->ask->inputs[$input['name']])) aria-invalid="true" @endif><option value=""></option>
                        @foreach ($input['choices'] as $choice)<option
                        @selected($shown($value) === $shown($choice))>{{ $shown($choice) }}</option>@endforeach
                        @if ($value !== '' && ! in_array($shown($value), array_map($shown, $input['choices']), true))<option
                        selected>{{ $shown($value) }}</option>@endif</select>
                @elseif ($type === 'json' || $input['in'] === 'body' && $type === 'text' || str_contains($shown($value), "\n"))
                    {{-- A line break right behind the tag is no part of the value. --}}
                    <textarea class="f lines" id="in-{{ $i }}-value" name="inputs[{{ $i }}][value]" rows="1"
                        aria-label="Value of {{ $input['name'] }}" aria-describedby="in-{{ $i }}-fault" spellcheck="false"
                        placeholder="{{ isset($input['default']) ? $shown($input['default']) : '' }}">{{ (str_starts_with($shown($value), "\n")
                        ? "\n" : '').$shown($value) }}</textarea>
                @else
                    <input class="f" data-lines id="in-{{ $i }}-value" name="inputs[{{ $i }}][value]" value="{{ $shown($value) }}"
                        aria-label="Value of {{ $input['name'] }}" aria-describedby="in-{{ $i }}-fault" spellcheck="false"
                        placeholder="{{ isset($input['default']) ? $shown($input['default']) : '' }}">
                @endif
                <select class="f" id="in-{{ $i }}-filled" name="inputs[{{ $i }}][filled]" aria-label="Who supplies {{ $input['name'] }}">
                    <option value="caller">caller</option><option value="fixed" @selected($fixed)>constant</option></select>
                <button type="button" class="x" aria-label="More of {{ $input['name'] }}" aria-expanded="false" aria-controls="in-{{ $i }}-more"
                    data-unfold="in-{{ $i }}-more">⋯</button>
                <x-sheet.step :to="$save" do="reshape" :with="['inputs['.$i.'][name]' => '']" class="x"
                    aria-label="Remove the input {{ $input['name'] }}">×</x-sheet.step>
                <div class="more">
                    <p class="fault" id="in-{{ $i }}-fault" role="status">{{ isset($sheet->ask->inputs[$input['name']]) ?
                        ucfirst($sheet->ask->inputs[$input['name']]->reason) : (isset($refused[$input['name']]) ?
                        'The service says: '.$refused[$input['name']] : '') }}</p>
                    @php($flags = collect([($input['required'] ?? false) && ! $fixed && $input['in'] !== 'path' ? 'required' : null,
                        isset($input['default']) ? 'default '.$shown($input['default']) : null, isset($input['choices']) && isset($input['many']) ?
                        'one of '.$shown($input['choices']) : null, isset($input['many']) ? 'several: '.$input['many'] : null, ($input['private'] ??
                        false) ? 'private' : null, ($input['send_empty'] ?? false) ? 'sent when empty' : null, isset($input['send_as']) ?
                        'sent as '.$input['send_as'] : null, isset($input['stands_for']) ?
                        'stands for '.\DeepSpring\Ask\StandsFor::text($input['stands_for']) : null])->filter()->join(' · '))
                    @if (($input['about'] ?? '') !== '')<p class="flags" title="{{ $input['about'] }}">{{ mb_strimwidth($input['about'], 0, 160,
                        '…') }}</p>@endif
                    @if ($flags !== '')<p class="flags">{{ $flags }}</p>@endif
                    @if ($sheet->isUnsupplied($input))<p class="fault">It is private, so nobody who uses the endpoint can supply it: make it a constant,
                        or give it a default.</p>@endif
                    <div class="detail" id="in-{{ $i }}-more" hidden>
                        <div class="grid grid-cols-2 gap-x-3 gap-y-1 py-1 text-sm">
                            <input type="hidden" name="inputs[{{ $i }}][details]" value="1">
                            <label><input type="checkbox" id="in-{{ $i }}-required" name="inputs[{{ $i }}][required]" value="1"
                                @checked(($input['required'] ?? false) || $input['in'] === 'path') @disabled($input['in'] === 'path')> required</label>
                            <label>values <select class="f !w-auto" id="in-{{ $i }}-many" name="inputs[{{ $i }}][many]">
                                <option value="">one value</option>@foreach (['comma' => 'a,b', 'repeat' => 'x=a&x=b', 'brackets' => 'x[]=a&x[]=b',
                                'pipe' => 'a|b', 'space' => 'a b'] as $many => $label)<option value="{{ $many }}"
                                @selected(($input['many'] ?? '') === $many)>{{ $many }}: {{ $label }}</option>@endforeach</select></label>
                            <label>default <input class="f !w-28" id="in-{{ $i }}-default" name="inputs[{{ $i }}][default]"
                                value="{{ $shown($input['default'] ?? '') }}" spellcheck="false"></label>
                            <label>when empty <select class="f !w-auto" id="in-{{ $i }}-send_empty" name="inputs[{{ $i }}][send_empty]">
                                <option value="">it is left out</option>
                                <option value="1" @selected(($input['send_empty'] ?? false) === true)>it is sent empty</option>
                                <option value="bare" @selected(($input['send_empty'] ?? false) === 'bare')>only its name is sent</option></select></label>
                            <label>sent as <input class="f !w-28" id="in-{{ $i }}-send_as" name="inputs[{{ $i }}][send_as]"
                                value="{{ $input['send_as'] ?? '' }}" placeholder="{{ $input['name'] }}" spellcheck="false"></label>
                            <label class="col-span-2">one of <input class="f !w-80" id="in-{{ $i }}-choices" name="inputs[{{ $i }}][choices]"
                                value="{{ $shown($input['choices'] ?? '') }}" placeholder="with commas; any value when empty" spellcheck="false"></label>
                            <label class="col-span-2"
                                title="In queries that read the list without keeping it: a column and how it is compared (status =, due >=, title contains), rows, or order due: due_at, due desc: -due_at">stands for
                                <input class="f !w-80" id="in-{{ $i }}-stands_for" name="inputs[{{ $i }}][stands_for]"
                                value="{{ \DeepSpring\Ask\StandsFor::text($input['stands_for'] ?? null) }}" placeholder="in queries, like: status =" spellcheck="false"></label>
                            <label class="col-span-2"><input type="checkbox" id="in-{{ $i }}-private" name="inputs[{{ $i }}][private]" value="1"
                                @checked($input['private'] ?? false)> private: never offered to those who only use the endpoint</label>
                            <label class="col-span-2">about <input class="f !w-80" id="in-{{ $i }}-about" name="inputs[{{ $i }}][about]"
                                value="{{ $input['about'] ?? '' }}"></label>
                        </div>
                    </div>
                </div>
            @endforeach
        </div>
        <p class="mt-2 text-sm"><x-sheet.step :to="$save" do="add-input" class="link" id="add-input"
            data-leads="[id^=in-][id$=-name]">Add an input</x-sheet.step></p>
        <details class="mt-1" @if (isset($ask['headers'])) open @endif><summary class="s">Headers of this endpoint{{ isset($ask['headers']) ? '' :
            ', beside those of the source' }}</summary>
            <textarea class="f mt-1" id="headers_text" name="headers_text" rows="{{ max(1, count($ask['headers'] ?? [])) }}"
                aria-label="Headers, one a line" placeholder="prefer: return=representation" spellcheck="false">{{ collect($ask['headers'] ??
                [])->map(fn ($value, $name) => "$name: $value")->join("\n") }}</textarea>
        </details>
        <div class="mt-2 flex flex-wrap items-center gap-x-3 gap-y-1 text-sm">
            <label>Body <x-sheet.choice class="!w-auto" id="body-as" name="body[as]" :to="$save"
                :options="\App\Http\Endpoints\BodyForm::choices()" :value="\App\Http\Endpoints\BodyForm::chosen($ask['body'] ?? null)" /></label>
            @if (isset($ask['body']))
                @if (! \App\Http\Endpoints\BodyForm::isText($ask['body']))<x-sheet.step :to="$save" do="body-inputs" class="link"
                    id="body-inputs">Make inputs of its values</x-sheet.step>@endif
                @if ($does === \DeepSpring\Ask\EndpointRole::Update)<x-sheet.step :to="$save" do="body-from-get"
                    class="link" id="body-from-get">Start from the answer of get</x-sheet.step>@endif
            @endif
        </div>
        @if (isset($ask['body']))
            @php($bodyText = \App\Http\Endpoints\BodyForm::text($ask['body']))
            <textarea class="f mt-1" id="body-of" name="body[of]" rows="{{ min(16, max(3, substr_count($bodyText, "\n") + 1)) }}"
                aria-label="The body" aria-describedby="body-hint" spellcheck="false">{{ $bodyText }}</textarea>
            <p class="s" id="body-hint"><x-help :text="\App\Http\Endpoints\BodyForm::setting($ask['body'], 'of')?->help" /></p>
            @php($optional = \App\Http\Endpoints\BodyForm::setting($ask['body'], 'optional'))
            @php($objects = $optional === null ? [] : \App\Http\Endpoints\BodyForm::objects($ask['body']['of']))
            @if ($objects !== [])
                <p class="mt-1 text-sm" title="{{ $optional->help }}">{{ $optional->label }}: @foreach ($objects as $object)<label
                    class="mr-3 whitespace-nowrap"><input
                    type="checkbox" id="optional-{{ $loop->index }}" name="body[optional][]" value="{{ $object }}"
                    @checked(in_array($object, $ask['body']['optional'] ?? [], true))> <code>{{ substr($object, 2) }}</code></label>@endforeach</p>
            @endif
            @php($lists = \App\Http\Endpoints\BodyForm::lists($ask['body']))
            @if ($lists !== [])<p class="mt-1 text-sm"><label for="body-each"
                title="{{ \App\Http\Endpoints\BodyForm::setting($ask['body'], 'each')?->help }}">Several records can stand in</label>
                <x-pick id="body-each" name="body[each]" :options="['' => 'no list of it'] + array_combine($lists, $lists)"
                    :value="$ask['body']['each'] ?? ''" /></p>@endif
            @foreach (\App\Http\Endpoints\BodyForm::flags($ask['body']) as $flag)<p class="text-sm"><x-setting :of="$flag" /></p>@endforeach
        @endif
        <x-faults :of="$sheet->faultsAt('ask')" id="faults-ask" />
        @php($set = $sheet->recordSet())
        @if (count($set['endpoints']) > 1 || $set['missing'] !== [])
            <p class="s mt-2">With the same records: @foreach ($set['endpoints'] as $one)@if ($one['slug'] !== $sheet->row->slug)<a
                href="{{ route('endpoints.show', [$source, $one['slug']]) }}">{{ $one['name'] }}</a>{{ $loop->last ? '' : ', ' }}@endif @endforeach
            @if ($set['missing'] !== [])<span class="dim">· still missing: @foreach ($set['missing'] as $role)<a
                href="{{ route('endpoints.create', [$source, 'does' => $role, 'from' =>
                $sheet->row->slug]) }}">{{ \App\View\Show::ROLES[$role] }}</a>{{ $loop->last ? '' : ', ' }}@endforeach</span>@endif</p>
        @endif
    </section>
    <div class="spine"><x-sheet.node :state="$sheet->node('ask')" stratum="ask" number="1" /></div>
    <div class="cell"><div id="confirm"></div><div id="happened-ask">@include('endpoints.parts.ask')</div></div>

    <section class="cell" data-stratum tabindex="-1" aria-label="Answer">
        <div class="lab"><h2>Answer</h2><small>where the records are</small></div>
        <label class="visually-hidden" for="records">JSONPath of the records</label>
        <input class="f" id="records" name="records" value="{{ $e['answer']['records'] ?? $e['answer']['rows']['data'] ?? '' }}"
            placeholder="the whole answer is one record" spellcheck="false">
        @isset($e['answer']['rows'])<label class="mt-1 flex items-center gap-2 text-sm whitespace-nowrap">names of the columns at <input class="f"
            id="row_names" name="row_names" value="{{ $e['answer']['rows']['names'] }}" spellcheck="false"></label>@endisset
        <x-faults :of="$sheet->faultsAt('answer')" id="faults-answer" />
        <div id="suggested-answer"><x-sheet.suggested :sheet="$sheet" stratum="answer" :to="$save" /></div>
        <p class="s mt-1">A JSONPath, or choose an array in the answer at the right.</p>
        @php($answer = $e['answer'] ?? [])
        <div class="mt-2 flex flex-wrap items-center gap-x-3 gap-y-2 text-sm">
            <label>Format <x-sheet.choice class="!w-auto" id="format-as" name="format[as]" :to="$save"
                :options="\App\Http\Endpoints\FormatForm::choices()" :value="$answer['format'] ?? 'auto'" /></label>
            @foreach (\App\Http\Endpoints\FormatForm::fields($answer) as $field)<x-setting :of="$field" />@endforeach
        </div>
        <details class="mt-2" id="sample" @if ($sheet->answer->isSample || ! $sheet->answer->isThere && $sheet->try === null &&
            isset($e['answer']['sample'])) open @endif><summary class="s">{{ isset($e['answer']['sample']) ? 'A sample stands in for the response' :
            'No response yet? Give one by hand' }}</summary>
            <textarea class="f mt-1" id="sample_text" name="sample_text" rows="5" spellcheck="false" aria-label="A sample answer"
                placeholder='{"data": [{"id": 1, "due": "2031-03-02"}]}   or a field a line:   due  date  2031-03-02'></textarea>
            <div class="mt-1 flex items-center gap-2 text-sm"><input type="file" id="sample_file" name="sample_file" accept=".json,.txt"
                aria-label="A file with a sample answer"><x-sheet.step :to="$save" do="sample" class="btn small" id="use-sample"
                hx-encoding="multipart/form-data">Use it as a sample</x-sheet.step>
            @if (isset($e['answer']['sample']))<x-sheet.step :to="$save" do="sample-forget"
                class="link">Remove the sample</x-sheet.step>@endif</div>
            <p class="s">JSON as the documentation shows it, or one field a line: its name, type and an example.</p>
        </details>
    </section>
    <div class="spine"><x-sheet.node :state="$sheet->node('answer')" stratum="answer" number="2" /></div>
    <div class="cell" id="happened-answer">@include('endpoints.parts.answer')</div>

    <section class="cell" data-stratum tabindex="-1" aria-label="Onward">
        <div class="lab"><h2>Onward</h2><small>how to get the rest</small></div>
        @include('endpoints.parts.onward-fields')
        <x-faults :of="$sheet->faultsAt('onward')" id="faults-onward" />
        <div id="suggested-onward"><x-sheet.suggested :sheet="$sheet" stratum="onward" :to="$save" /></div>
    </section>
    <div class="spine"><x-sheet.node :state="$sheet->node('onward')" stratum="onward" number="3" /></div>
    <div class="cell" id="happened-onward">@include('endpoints.parts.onward')</div>

    <section class="cell" data-stratum tabindex="-1" aria-label="Flatten">
        @php($flatten = $e['flatten'] ?? null)
        <div class="lab"><h2>Flatten</h2><small>{{ $flatten === null ? 'what the records become' : \App\View\Show::tables($flatten) }}</small>
            <a class="btn small ml-auto" id="to-shape" href="{{ route('endpoints.shape', [$source, $sheet->row]) }}">Shape it</a>
            <x-sheet.step :to="$save" do="propose" class="btn small" id="propose"
                :disabled="$sheet->records === []">{{ $flatten === null ? 'Propose columns' : 'Propose again' }}</x-sheet.step>
        </div>
        <div id="suggested-flatten"><x-sheet.suggested :sheet="$sheet" stratum="flatten" :to="$save" /></div>
        @if ($flatten !== null)
            @php($notes = $sheet->preview()->notes())
            @foreach (array_values(\DeepSpring\Flatten\Plan::tablesIn($flatten)) as $t => $table)
                <div class="mb-1 mt-3 flex items-center gap-2 text-sm">
                    <label class="flex items-center gap-1">{{ $t === 0 ? 'table' : 'branch table' }} <input class="f !w-40" id="t{{ $t }}-table"
                        name="tables[{{ $t }}][table]" value="{{ $table['table'] }}" spellcheck="false"></label>
                    @if ($t > 0)<label class="flex items-center gap-1">from <input class="f !w-40" id="t{{ $t }}-from" name="tables[{{ $t }}][from]"
                        value="{{ $table['from'] }}" spellcheck="false"></label>
                        <x-sheet.step :to="$save" do="reshape" :with="['tables['.$t.']' => '']" class="x ml-auto"
                            aria-label="Leave out the branch table {{ $table['table'] }}" hx-params="not tables[{{ $t }}][columns]">×</x-sheet.step>@endif
                </div>
                @if ($t === 1)<p class="s">A branch table has a row for each element of a list inside the records, joined to its record by the
                    key.</p>@endif
                <div class="cols-edit">
                    <span class="h">from</span><span class="h">column</span><span class="h">type</span><span class="h">key</span><span></span>
                    @foreach (array_values($table['columns']) as $c => $column)
                        @php($id = "t$t-c$c")
                        @php($name = "tables[$t][columns][$c]")
                        @php($note = $notes["{$table['table']}.{$column['name']}"] ?? null)
                        <input type="hidden" name="{{ $name }}[was]" value="{{ $c }}">
                        <input class="f" id="{{ $id }}-from" name="{{ $name }}[from]" value="{{ \App\Http\Endpoints\EndpointForm::fromOf($column) }}"
                            aria-label="Where {{ $column['name'] }} comes from" spellcheck="false">
                        <input class="f" id="{{ $id }}-name" name="{{ $name }}[name]" value="{{ $column['name'] }}"
                            aria-label="Name of column {{ $c + 1 }} of {{ $table['table'] }}" spellcheck="false">
                        <select class="f" id="{{ $id }}-type" name="{{ $name }}[type]" aria-label="Type of {{ $column['name'] }}">
                            @if (isset($column['compute']) && ! isset($column['type']))<option value="" selected>as computed</option>@endif
                            @foreach (\DeepSpring\Flatten\Type\Types::family()->titles() as $type => $label)<option value="{{ $type }}"
                            @selected(($column['type'] ?? (isset($column['compute']) ? '' : 'text')) === $type)>{{ $label }}</option>@endforeach</select>
                        <input type="checkbox" id="{{ $id }}-key" name="{{ $name }}[key]" value="1"
                            aria-label="{{ $column['name'] }} is part of the key" @checked(in_array($column['name'], $table['key'] ?? [], true))>
                        <label class="narrow-label s" for="{{ $id }}-key" aria-hidden="true">key</label>
                        <span class="whitespace-nowrap"><x-sheet.step :to="$save" do="reshape" class="x"
                            :with="[$name.'[name]' => '', $name.'[from]' => '']" aria-label="Leave out {{ $column['name'] }}">×</x-sheet.step></span>
                        @if ($note !== null || str_contains($column['from'] ?? '', '[*]') || ($column['type'] ?? '') === 'decimal')
                            <div class="more flex flex-wrap items-center gap-2 pb-1 text-sm">
                                @if ($note !== null)<span class="tag o">{{ $note }}</span>@endif
                                @if (($column['type'] ?? '') === 'decimal')<label class="s">decimals <input class="f !w-12" id="{{ $id }}-scale"
                                    name="{{ $name }}[scale]" value="{{ $column['scale'] ?? 2 }}"></label>@endif
                                @if (str_contains($column['from'] ?? '', '[*]'))
                                    <label class="s">several become <select class="f !w-auto" id="{{ $id }}-many" name="{{ $name }}[many]">
                                        @foreach (['json' => 'a JSON list', 'join' => 'joined text', 'first' => 'the first', 'last' => 'the last',
                                        'count' => 'their count'] as $many => $label)<option value="{{ $many }}"
                                        @selected(($column['many'] ?? 'json') === $many)>{{ $label }}</option>@endforeach</select></label>
                                @endif
                            </div>
                        @endif
                    @endforeach
                </div>
                <p class="mt-1 text-sm"><x-sheet.step :to="$save" do="add-column" :with="['at' => (string) $t]"
                    class="link">Add a column</x-sheet.step></p>
            @endforeach
        @endif
        <x-faults :of="$sheet->faultsAt('flatten')" id="faults-flatten" />
    </section>
    <div class="spine"><x-sheet.node :state="$sheet->node('flatten')" stratum="flatten" number="4" /></div>
    <div class="cell" id="happened-flatten">@include('endpoints.parts.flatten')</div>

    <section class="cell last" data-stratum tabindex="-1" aria-label="Keep">
        <div class="lab"><h2>Keep</h2><small>in {{ $environment->name }}, for everybody to query</small></div>
        @if ($does->writes())<p class="mb-2 text-sm">This endpoint writes. A table is kept only from what reads: if this only reads, choose
            <em>lists</em> or <em>gets one</em> under Ask.</p>@endif
        @includeWhen($sheet->keep()->inputs() !== [] && ! $does->writes(), 'endpoints.parts.kept-inputs')
        @unless ($does->writes())@include('endpoints.parts.refresh-fields', ['fields' =>
            $sheet->refresh((string) request('refresh.choice'))]) @include('endpoints.parts.history-fields')@endunless
        <x-faults :of="$sheet->faultsAt('keep')" id="faults-keep" />
        <div id="suggested-keep"><x-sheet.suggested :sheet="$sheet" stratum="keep" :to="$save" /></div>
        <p class="mb-2 text-sm">Publishes these settings and reads all pages into the {{ count($flatten['branches'] ?? []) > 0 ? 'tables' : 'table' }}.</p>
        @if ($sheet->canRebuild())
            <p class="mb-2 text-sm"><button type="button" class="btn small" id="keep-rebuild" hx-post="{{ route('endpoints.keep', [$source,
                $sheet->row]) }}" hx-include="#sheet-form" hx-vals='{"rebuild": "1"}' hx-swap="none">Publish and rebuild from the kept pages</button>
                <span class="s">asks the service nothing: what is read from an answer changed, not what is asked for</span></p>
        @endif
        <button type="button" class="btn" id="keep" hx-post="{{ route('endpoints.keep', [$source, $sheet->row]) }}" hx-include="#sheet-form"
            hx-swap="none" @disabled($flatten === null || $does->writes())>{{ $kept->isEmpty() ? 'Keep as table' : 'Publish and refresh' }}</button>
    </section>
    <div class="spine"><x-sheet.node :state="$sheet->node('keep')" stratum="keep" number="5" /></div>
    <div class="cell last" id="happened-keep">@include('endpoints.parts.keep')</div>
</div>
</form>
</div>
