@use('App\View\Show')
@use('DeepSpring\OData\Filter\Condition')
@php($save = route('endpoints.choice.update', [$source, $sheet->row]))
<div id="sheet">
<div class="head">
    <div>
        <nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a> › <a
            href="{{ route('sources.show', $source) }}">{{ $source->name }}</a> › <a
            href="{{ route('services.set', [$source, $sheet->set->name]) }}">{{ $sheet->set->name }}</a> › <a
            href="{{ route('endpoints.show', [$source, $sheet->row]) }}">{{ $sheet->endpoint['name'] }}</a></nav>
        <h1>What is asked for</h1>
    </div>
    <div class="acts" data-slow>
        <span class="s" data-waiting role="status"></span>
        <a class="btn" href="{{ route('endpoints.show', [$source, $sheet->row]) }}">To the sheet: try and keep</a>
        @can('update', $source)<button type="button" class="btn go" id="look" data-go hx-post="{{ route('endpoints.choice.preview', [$source,
            $sheet->row]) }}" hx-include="#choice-form" hx-target="#sheet" hx-swap="outerHTML" hx-disabled-elt="this">Look at 20 rows <span
            class="font-normal opacity-80">Ctrl ↵</span></button>@endcan
    </div>
</div>
<div class="cols"><div>What you choose from {{ $sheet->set->name }}</div><div></div><div>What that is</div></div>
<form id="choice-form" hx-post="{{ $save }}" hx-target="#sheet" hx-swap="outerHTML" hx-trigger="change, submit, overtaken">
<div class="sheet">
@foreach ($sheet->levels as $level)
    @php($n = $level->number)
    @php($at = "levels[$n]")
    <section class="cell" data-stratum tabindex="-1" aria-labelledby="level-{{ $n }}-title">
        <input type="hidden" name="{{ $at }}[path]" value="{{ $level->path }}">
        <div class="lab"><h2 id="level-{{ $n }}-title">{{ $level->path === '' ? 'Columns' : str_replace('/', ' › ',
            $level->path) }}</h2><small>{{ $level->path === '' ? '' : ($level->many ? 'a branch table: rows of its own, with the key of the parent' :
            'columns beside those of its parent').' · ' }}{{ $level->choice->select === [] ? 'all '.count($level->paths) :
            count($level->choice->select).' of '.count($level->paths) }}</small></div>
        <fieldset class="picks" aria-label="Columns of {{ $level->path ?: $sheet->set->name }}">
            @foreach ($level->paths as $p => $path)
                @php($property = $level->type->property(explode('/', $path)[0]))
                <label title="{{ $property?->typed() }}{{ $property?->about ? ': '.$property->about : '' }}"><input type="checkbox"
                    id="level-{{ $n }}-select-{{ $p }}" name="{{ $at }}[select][]" value="{{ $path }}"
                    @checked($level->isChosen($path) || $level->isKey($path)) @disabled($level->isKey($path))> {{ $path }}@if ($level->isKey($path))
                    <small>key</small>@endif</label>
                @if ($level->isKey($path))<input type="hidden" name="{{ $at }}[select][]" value="{{ $path }}">@endif
            @endforeach
        </fieldset>
        @if ($level->many)
        <div class="mt-2">
            <h3>Only where</h3>
            <input type="hidden" name="{{ $at }}[filter_was]" value="{{ $level->choice->filter }}">
            @if ($level->conditions !== null)
                @php($rows = [...array_map(null, $level->conditions), null])
                @foreach ($rows as $r => $one)
                    @php($refused = $one === null ? ($sheet->refusedRows($n)[0] ?? null) : null)
                    @php($path = $one?->path ?? ($refused === null ? '' : $sheet->typed($n, $refused, 'path')))
                    @php($operator = $one?->operator ?? ($refused === null ? 'eq' : $sheet->typed($n, $refused, 'operator')))
                    <div class="condition">
                        <select class="f" id="level-{{ $n }}-c{{ $r }}-path" name="{{ $at }}[conditions][{{ $r }}][path]"
                            aria-label="Condition {{ $r + 1 }}: column"><option value="">{{ $r === 0 ? 'every row' : 'and …' }}</option>
                            @foreach (array_unique([...$level->comparable, ...($path ? [$path] : [])]) as $choice)<option
                            @selected($choice === $path)>{{ $choice }}</option>@endforeach</select>
                        <select class="f" id="level-{{ $n }}-c{{ $r }}-operator" name="{{ $at }}[conditions][{{ $r }}][operator]"
                            aria-label="Condition {{ $r + 1 }}: how">@foreach (Condition::OPERATORS as $key => $label)<option value="{{ $key }}"
                            @selected($operator === $key)>{{ $label }}</option>@endforeach</select>
                        @php($members = $path ? $sheet->model->members((new \DeepSpring\OData\Filter\Conditions($sheet->model,
                            $level->type))->look($path)[0] ?? '') : null)
                        <input class="f" id="level-{{ $n }}-c{{ $r }}-value" name="{{ $at }}[conditions][{{ $r }}][value]"
                            value="{{ $one?->value ?? ($refused === null ? '' : $sheet->typed($n, $refused, 'value')) }}"
                            aria-label="Condition {{ $r + 1 }}: value" spellcheck="false" @if ($refused !== null) aria-invalid="true"
                            aria-describedby="level-{{ $n }}-c{{ $r }}-fault" @endif @if ($members) list="level-{{ $n }}-c{{ $r }}-members" @endif>
                        @if ($members)<datalist id="level-{{ $n }}-c{{ $r }}-members">@foreach (array_keys($members) as $member)<option
                            value="{{ $member }}">@endforeach</datalist>@endif
                        @if ($one)<input type="hidden" name="{{ $at }}[conditions][{{ $r }}][done]" value="1"><x-sheet.step :to="$save" form="choice-form"
                            :with="[$at.'[conditions]['.$r.'][path]' => '']" class="x"
                            aria-label="Remove condition {{ $r + 1 }}">×</x-sheet.step>@else<span></span>@endif
                        @if ($refused !== null)<p class="fault" id="level-{{ $n }}-c{{ $r }}-fault"
                            role="alert">{{ $sheet->faults["levels[$n][conditions][$refused]"] }}</p>@endif
                    </div>
                @endforeach
            @endif
            <details class="mt-1" @if ($level->conditions === null || $level->broken || $level->findings !== []) open @endif><summary
                class="s">{{ $level->conditions === null ? 'As a text: it says more than conditions can' : 'As a text' }}</summary>
                <textarea class="f mt-1" id="level-{{ $n }}-filter" name="{{ $at }}[filter]"
                    rows="{{ max(1, (int) ceil(mb_strlen($level->choice->filter) / 62)) }}"
                    aria-label="Filter of {{ $level->path ?: $sheet->set->name }}" spellcheck="false" placeholder="{{ $sheet->model->version->isV4() ?
                    "contains(Title,'glass') or OnLoan eq true" : "substringof('glass',Title) or OnLoan eq true" }}"
                    @if ($level->broken || $level->findings !== []) aria-invalid="true" aria-describedby="level-{{ $n }}-findings"
                    @endif>{{ $level->choice->filter }}</textarea>
            </details>
            <div id="level-{{ $n }}-findings">@if ($level->broken)<p class="fault" role="alert">{{ $level->broken }}</p>@endif
                @foreach ($level->findings as $finding)<p class="fault">{{ $finding->sentence }}</p>@endforeach</div>
        </div>
        <div class="mt-2 flex flex-wrap items-center gap-x-3 gap-y-1 text-sm">
            @foreach ([...$level->orders(), ['', false]] as $o => [$by, $desc])
                <span><label for="level-{{ $n }}-o{{ $o }}-by">{{ $o === 0 ? 'in the order of' : 'then' }}</label> <select class="f !w-36"
                    id="level-{{ $n }}-o{{ $o }}-by" name="{{ $at }}[order][{{ $o }}][by]">
                    <option value="">{{ $o === 0 ? 'the service' : '…' }}</option>
                    @foreach (array_unique([...array_filter($level->comparable, fn ($one) => ! str_contains($one, '/') || !
                    ($level->type->navigation(explode('/', $one)[0])?->many)), ...($by !== '' ? [$by] : [])]) as $choice)<option
                    @selected($choice === $by)>{{ $choice }}</option>@endforeach</select>
                @if ($by !== '')<select class="f !w-auto" id="level-{{ $n }}-o{{ $o }}-way" name="{{ $at }}[order][{{ $o }}][way]"
                    aria-label="Direction of {{ $by }}"><option value="asc">ascending</option>
                    <option value="desc" @selected($desc)>descending</option></select>@endif</span>
            @endforeach
            <label>at most <input class="f !w-16" id="level-{{ $n }}-top" name="{{ $at }}[top]" value="{{ $level->choice->top }}" inputmode="numeric"
                placeholder="all"> rows</label>
            @if (isset($sheet->faults["levels[$n][top]"]))<span class="fault" role="alert">{{ $sheet->faults["levels[$n][top]"] }}</span>@endif
            @if ($level->path === '' && $sheet->model->version->isV4() && $sheet->set->can('search'))<label>searched for <input class="f !w-32"
                id="search" name="{{ $at }}[search]" value="{{ $level->choice->search }}" spellcheck="false"></label>@endif
        </div>
        @foreach ($level->orderFindings as $finding)<p class="fault">{{ $finding->sentence }}</p>@endforeach
        @endif
        @if ($level->type->navigations !== [])
        <h3 class="mt-2">Include related</h3>
        <fieldset class="picks" aria-label="Related to {{ $level->path ?: $sheet->set->name }}">
            @foreach ($level->type->navigations as $way)
                @php($no = in_array($way->name, $level->set?->not('expand') ?? [], true) || $level->set?->can('expand') === false)
                <label title="{{ $way->many ? 'several' : 'one' }} of {{ $way->type }}{{ $no ? ': the service says that it cannot be expanded' :
                    '' }}"><input type="checkbox" id="level-{{ $n }}-expand-{{ $loop->index }}" name="{{ $at }}[expand][]" value="{{ $way->name }}"
                    @checked(isset($level->choice->expand[$way->name])) @disabled($no)> {{ $way->name }} <small>{{ $way->many ? 'branch' :
                    'columns' }}</small></label>
            @endforeach
        </fieldset>
        @endif
    </section>
    <div class="spine"><span class="node no">{{ $n + 1 }}</span></div>
    <div class="cell">
    @if ($n === 0)
        @php($address = $sheet->address())
        @if (isset($sheet->faults['choice']))<p class="diagnosis" role="alert">{{ $sheet->faults['choice'] }}</p>@endif
        <h3>The address</h3>
        <pre class="ev" id="address">{!! str_replace(['&amp;', ','], ['&amp;<wbr>', ',<wbr>'], e($address->readable())) !!}</pre>
        <details><summary class="s">Encoded, as it is sent</summary><pre class="ev mt-1">{{ $address->encoded() }}</pre></details>
        @foreach ($sheet->remarks() as $remark)<p class="note mt-2 !mb-0">{{ $remark }}</p>@endforeach
        @if ($sheet->ownParts() !== [])<p class="mt-1"><x-sheet.step :to="$save" form="choice-form" do="follow"
            class="link text-sm">Reset all of it to the choice</x-sheet.step></p>@endif
        @if ($sheet->tables() !== [])
            <h3 class="mt-3">What it becomes</h3>
            <ul class="text-sm">@foreach ($sheet->tables() as $table)<li><code>{{ $table['name'] }}</code> <span
                class="s">{{ Show::count($table['columns'], 'column') }}, {{ $table['key'] === [] ? 'no key' : 'key '.implode(' + ',
                $table['key']) }}</span></li>@endforeach</ul>
        @endif
        <div id="rows" class="mt-3" role="status">@include('services.rows', ['look' => $look, 'failed' => $failed, 'isShort' => true])</div>
    @elseif ($level->set)
        <p class="s">From <a href="{{ route('services.set', [$source, $level->set->name]) }}">{{ $level->set->name }}</a>{{ $level->set->about !== ''
            ? ': '.lcfirst($level->set->about) : '' }}.</p>
    @endif
    </div>
@endforeach
    @if (! $sheet->set->single)
    <section class="cell last" data-stratum tabindex="-1">
        @php($page = $sheet->endpoint['page'] ?? [])
        <div class="lab"><h2>Pages</h2></div>
        <div class="flex flex-wrap items-center gap-x-3 gap-y-1 text-sm">
            <label><input type="radio" id="page-service" name="page[by]" value="service" @checked(($page['by'] ?? 'service') === 'service')>
                as the service hands them out</label>
            <label><input type="radio" id="page-client" name="page[by]" value="client" @checked(($page['by'] ?? 'service') === 'client')>
                cut here, in the order of the key</label>
            <label>of <input class="f !w-16" id="page-size" name="page[size]" value="{{ $page['size'] ?? '' }}" inputmode="numeric"
                placeholder="{{ $sheet->set->maxPage() ?? 'any' }}"> rows</label>
            @if (isset($sheet->faults['page[size]']))<span class="fault" role="alert">{{ $sheet->faults['page[size]'] }}</span>@endif
            <label><input type="checkbox" id="page-count" name="page[count]" value="1" @checked(($page['count'] ?? true) === true)
                @disabled(! $sheet->set->can('count'))> with their count</label>
            @if ($sheet->model->version->isV4())<label><input type="checkbox" id="page-long" name="page[long_numbers]" value="1"
                @checked(($page['long_numbers'] ?? false) === true)> long numbers as text</label>@endif
            @if ($sheet->model->version->isV4() && $sheet->set->saysItCan('track'))<label><input type="checkbox" id="track" name="track" value="1"
                @checked(($sheet->endpoint['track'] ?? false) === true)> after the first time, only changes</label>@endif
        </div>
    </section>
    <div class="spine"><span class="node no">{{ count($sheet->levels) + 1 }}</span></div>
    <div class="cell last"><p class="s">{{ ($page['by'] ?? 'service') === 'client' ?
        'Pages are asked for with $skip and $top, sorted so that every row has one place.' :
        'Each answer names the next one, until none does.' }} {{ ($page['count'] ?? true) === true && $sheet->choice->top === null ?
        'The count proves that all rows came.' : '' }}</p></div>
    @endif
</div>
</form>
</div>
