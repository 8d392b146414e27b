@php
    $e = $sheet->endpoint;
    $save = route('endpoints.update', [$source, $sheet->row]);
    $structural = 'hx-post="'.$save.'" hx-include="#sheet-form" hx-target="#sheet" hx-swap="outerHTML"';
    $kept = $sheet->kept();
@endphp
<div id="sheet">
<div class="head">
    <div>
        <nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a> › <a href="{{ route('sources.show', $source) }}">{{ $source->name }}</a> › Endpoints</nav>
        <h1><label class="visually-hidden" for="name">Name of this endpoint</label><span>{{ $e['name'] }}</span> <span class="tag">reads</span> @include('endpoints.parts.state', ['oob' => false])</h1>
    </div>
    <div class="acts" data-slow>
        <span class="s" data-waiting role="status"></span>
        <details class="menu"><summary class="btn">More</summary><div>
            <p><label class="s" for="name">Name</label><input class="f" id="name" name="name" form="sheet-form" value="{{ $e['name'] }}"></p>
            <p class="mt-2"><a href="{{ route('sources.file', $source) }}">Source file</a></p>
            @if ($environments->count() > 1)<p class="mt-2"><a href="{{ route('endpoints.compare', [$source, $sheet->row]) }}">Compare environments</a></p>@endif
            <form method="post" action="{{ route('endpoints.destroy', [$source, $sheet->row]) }}" class="mt-2">@csrf @method('delete')<button>Delete this endpoint</button></form>
        </div></details>
        <button type="button" class="btn go" data-go hx-post="{{ route('endpoints.try', [$source, $sheet->row]) }}" hx-include="#sheet-form" hx-swap="none" hx-disabled-elt="this">Try it <span class="font-normal opacity-80">Ctrl ↵</span></button>
    </div>
</div>
<div class="cols"><div>What you set</div><div></div><div id="happened-head">@include('endpoints.parts.head')</div></div>
<form id="sheet-form" hx-post="{{ $save }}" hx-trigger="change, submit, overtaken" hx-swap="none">
<div class="sheet">
    <section class="cell" data-stratum tabindex="-1" aria-label="Ask">
        <div class="lab"><h2>Ask</h2><small>one request for records</small></div>
        <div class="mb-2 flex items-center gap-2">
            <span class="f">GET</span>
            <label class="visually-hidden" for="path">Path</label>
            <input class="f" id="path" name="path" value="{{ $e['ask']['path'] ?? '/' }}" spellcheck="false">
        </div>
        <div class="in-edit">
            <span class="h">Input</span><span class="h">goes in</span><span class="h">type</span><span class="h">try with</span><span class="h">filled by</span><span></span>
            @foreach (array_values($e['ask']['inputs'] ?? []) as $i => $input)
                @php($fixed = array_key_exists('fixed', $input))
                @php($value = $fixed ? $input['fixed'] : ($input['try'] ?? ''))
                <input type="hidden" name="inputs[{{ $i }}][was]" value="{{ $i }}">
                <input class="f" id="in-{{ $i }}-name" name="inputs[{{ $i }}][name]" value="{{ $input['name'] }}" aria-label="Name of input {{ $i + 1 }}" spellcheck="false">
                <select class="f" id="in-{{ $i }}-in" name="inputs[{{ $i }}][in]" aria-label="Where {{ $input['name'] }} goes">@foreach (['path', 'query', 'header'] as $place)<option @selected($input['in'] === $place)>{{ $place }}</option>@endforeach</select>
                <select class="f" id="in-{{ $i }}-type" name="inputs[{{ $i }}][type]" aria-label="Type of {{ $input['name'] }}">@foreach (['text', 'integer', 'number', 'boolean', 'date', 'datetime'] as $type)<option @selected(($input['type'] ?? 'text') === $type)>{{ $type }}</option>@endforeach</select>
                <input class="f" id="in-{{ $i }}-value" name="inputs[{{ $i }}][value]" value="{{ is_array($value) ? implode(', ', $value) : (is_bool($value) ? var_export($value, true) : $value) }}" aria-label="Value of {{ $input['name'] }}" spellcheck="false">
                <select class="f" id="in-{{ $i }}-filled" name="inputs[{{ $i }}][filled]" aria-label="Who fills {{ $input['name'] }}"><option value="caller">caller</option><option value="fixed" @selected($fixed)>fixed</option></select>
                <button type="button" class="x" aria-label="Remove the input {{ $input['name'] }}" {!! $structural !!} hx-vals='{"do": "remove", "inputs[{{ $i }}][name]": ""}'>×</button>
            @endforeach
        </div>
        <p class="mt-2 text-sm"><button type="button" class="link" id="add-input" {!! $structural !!} name="do" value="add-input">Add an input</button></p>
        <x-faults :of="$sheet->faultsAt('ask')" id="faults-ask" />
    </section>
    <div class="spine">@include('endpoints.parts.node', ['stratum' => 'ask', 'number' => 1])</div>
    <div class="cell" id="happened-ask">@include('endpoints.parts.ask')</div>

    <section class="cell" data-stratum tabindex="-1" aria-label="Answer">
        <div class="lab"><h2>Answer</h2><small>where the records are</small></div>
        <label class="visually-hidden" for="records">JSONPath of the records</label>
        <input class="f" id="records" name="records" value="{{ $e['answer']['records'] ?? '' }}" placeholder="the whole answer is one record" spellcheck="false">
        <x-faults :of="$sheet->faultsAt('answer')" id="faults-answer" />
        <p class="s mt-1">A JSONPath, or choose an array in the answer at the right.</p>
    </section>
    <div class="spine">@include('endpoints.parts.node', ['stratum' => 'answer', 'number' => 2])</div>
    <div class="cell" id="happened-answer">@include('endpoints.parts.answer')</div>

    <section class="cell" data-stratum tabindex="-1" aria-label="Onward">
        <div class="lab"><h2>Onward</h2><small>how to get the rest</small></div>
        @php($o = $e['onward'] ?? ['style' => 'none'])
        @php($field = fn (string $name, string $label, string $width = '!w-28', string $hint = '') => new \Illuminate\Support\HtmlString('<label class="whitespace-nowrap">'.e($label).' <input class="f '.$width.'" id="onward-'.$name.'" name="onward['.$name.']" value="'.e((string) ($o[$name] ?? '')).'" placeholder="'.e($hint).'" spellcheck="false"></label>'))
        <div class="flex flex-wrap items-center gap-x-3 gap-y-2 text-sm">
            <label>The rest comes by <select class="f !w-auto" id="onward-style" name="onward[style]" {!! $structural !!} hx-trigger="change consume" hx-vals='{"do": "style"}'>
                @foreach (['none' => 'nothing: one answer is all', 'page' => 'page number', 'cursor' => 'a cursor', 'next-link' => 'a link in the answer'] as $style => $label)<option value="{{ $style }}" @selected($o['style'] === $style)>{{ $label }}</option>@endforeach
            </select></label>
            @if ($o['style'] === 'page')
                {{ $field('send_as', 'sent as') }} {{ $field('first', 'from', '!w-14', '1') }} {{ $field('pages', 'pages at', '!w-32', '$.pages') }} {{ $field('total', 'or records at', '!w-32', '$.total') }}
            @elseif ($o['style'] === 'cursor')
                {{ $field('next', 'found at', '!w-32') }} {{ $field('send_as', 'sent back as') }} {{ $field('more', 'while true', '!w-36', '$.has_more') }}
            @elseif ($o['style'] === 'next-link')
                {{ $field('link', 'found at', '!w-44') }}
            @endif
            @if ($o['style'] !== 'none')
                {{ $field('size', 'at a time', '!w-16') }} {{ $field('size_as', 'asked for as', '!w-28', 'limit') }} {{ $field('max_pages', 'at most', '!w-16') }} pages
            @endif
        </div>
        <x-faults :of="$sheet->faultsAt('onward')" id="faults-onward" />
    </section>
    <div class="spine">@include('endpoints.parts.node', ['stratum' => 'onward', 'number' => 3])</div>
    <div class="cell" id="happened-onward">@include('endpoints.parts.onward')</div>

    <section class="cell" data-stratum tabindex="-1" aria-label="Flatten">
        @php($flatten = $e['flatten'] ?? null)
        <div class="lab"><h2>Flatten</h2><small>{{ $flatten === null ? 'what the records become' : \App\View\Show::count(count($flatten['columns']), 'column').', '.\App\View\Show::count(count($flatten['branches'] ?? []), 'branch table') }}</small>
            <button type="button" class="btn small ml-auto" id="propose" {!! $structural !!} name="do" value="propose" @disabled($sheet->records === [])>{{ $flatten === null ? 'Propose columns' : 'Propose anew' }}</button>
        </div>
        @if ($flatten !== null)
            @foreach ([$flatten, ...($flatten['branches'] ?? [])] as $t => $table)
                <div class="mb-1 mt-3 flex items-center gap-2 text-sm">
                    @if ($t > 0)<input type="hidden" name="tables[{{ $t }}][was]" value="{{ $t - 1 }}">@endif
                    <label class="flex items-center gap-1">{{ $t === 0 ? 'table' : 'branch table' }} <input class="f !w-40" id="t{{ $t }}-table" name="tables[{{ $t }}][table]" value="{{ $table['table'] }}" spellcheck="false"></label>
                    @if ($t > 0)<label class="flex items-center gap-1">from <input class="f !w-40" id="t{{ $t }}-from" name="tables[{{ $t }}][from]" value="{{ $table['from'] }}" spellcheck="false"></label>
                        <button type="button" class="x ml-auto" aria-label="Leave out the branch table {{ $table['table'] }}" {!! $structural !!} hx-params="not tables[{{ $t }}][columns]" hx-vals='{"do": "remove", "tables[{{ $t }}]": ""}'>×</button>@endif
                </div>
                <div class="cols-edit">
                    <span class="h">from</span><span class="h">column</span><span class="h">type</span><span class="h">key</span><span></span>
                    @foreach (array_values($table['columns']) as $c => $column)
                        @php($id = "t$t-c$c")
                        @php($name = "tables[$t][columns][$c]")
                        @php($note = $sheet->notes["{$table['table']}.{$column['name']}"] ?? null)
                        <input type="hidden" name="{{ $name }}[was]" value="{{ $c }}">
                        <input class="f" id="{{ $id }}-from" name="{{ $name }}[from]" value="{{ \App\Http\Sheets\EndpointForm::fromOf($column) }}" aria-label="Where {{ $column['name'] }} comes from" spellcheck="false">
                        <input class="f" id="{{ $id }}-name" name="{{ $name }}[name]" value="{{ $column['name'] }}" aria-label="Name of column {{ $c + 1 }} of {{ $table['table'] }}" spellcheck="false">
                        <select class="f" id="{{ $id }}-type" name="{{ $name }}[type]" aria-label="Type of {{ $column['name'] }}">@foreach (\DeepSpring\Flatten\Type\Types::LABELS as $type => $label)<option value="{{ $type }}" @selected(($column['type'] ?? 'text') === $type)>{{ $label }}</option>@endforeach</select>
                        <input type="checkbox" id="{{ $id }}-key" name="{{ $name }}[key]" value="1" aria-label="{{ $column['name'] }} is part of the key" @checked(in_array($column['name'], $table['key'] ?? [], true))>
                        <span class="whitespace-nowrap"><button type="button" class="x" aria-label="Leave out {{ $column['name'] }}" {!! $structural !!} hx-vals='{"do": "remove", "{{ $name }}[name]": "", "{{ $name }}[from]": ""}'>×</button></span>
                        @if ($note !== null || str_contains($column['from'] ?? '', '[*]') || ($column['type'] ?? '') === 'decimal')
                            <div class="more flex flex-wrap items-center gap-2 pb-1 text-sm">
                                @if ($note !== null)<span class="tag o">{{ $note }}</span>@endif
                                @if (($column['type'] ?? '') === 'decimal')<label class="s">decimals <input class="f !w-12" id="{{ $id }}-scale" name="{{ $name }}[scale]" value="{{ $column['scale'] ?? 2 }}"></label>@endif
                                @if (str_contains($column['from'] ?? '', '[*]'))
                                    <label class="s">several become <select class="f !w-auto" id="{{ $id }}-many" name="{{ $name }}[many]">@foreach (['json' => 'a JSON list', 'join' => 'joined text', 'first' => 'the first', 'last' => 'the last', 'count' => 'their count'] as $many => $label)<option value="{{ $many }}" @selected(($column['many'] ?? 'json') === $many)>{{ $label }}</option>@endforeach</select></label>
                                @endif
                            </div>
                        @endif
                    @endforeach
                </div>
                <p class="mt-1 text-sm"><button type="button" class="link" {!! $structural !!} name="do" value="add-column-{{ $t }}">Add a column</button></p>
            @endforeach
        @endif
        <x-faults :of="$sheet->faultsAt('flatten')" id="faults-flatten" />
    </section>
    <div class="spine">@include('endpoints.parts.node', ['stratum' => 'flatten', 'number' => 4])</div>
    <div class="cell" id="happened-flatten">@include('endpoints.parts.flatten')</div>

    <section class="cell last" data-stratum tabindex="-1" aria-label="Keep">
        <div class="lab"><h2>Keep</h2><small>in {{ $environment->name }}, for everybody to query</small></div>
        <p class="mb-2 text-sm">Publishes these settings and reads all pages into the {{ count($flatten['branches'] ?? []) > 0 ? 'tables' : 'table' }}.</p>
        <button type="button" class="btn" id="keep" hx-post="{{ route('endpoints.keep', [$source, $sheet->row]) }}" hx-include="#sheet-form" hx-swap="none" @disabled($flatten === null)>{{ $kept->isEmpty() ? 'Keep as table' : 'Publish and refresh' }}</button>
    </section>
    <div class="spine">@include('endpoints.parts.node', ['stratum' => 'keep', 'number' => 5])</div>
    <div class="cell last" id="happened-keep">@include('endpoints.parts.keep')</div>
</div>
</form>
</div>
