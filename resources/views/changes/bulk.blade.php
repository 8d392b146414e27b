@extends('layouts.app')
@section('title', "Change $kept->name in bulk")
@section('content')
@php($show = \App\View\Show::class)
@php($act = \DeepSpring\Change\RecordAct::class)
<div class="head">
    <div><nav class="crumbs"><a href="{{ route('tables.index') }}">Tables</a> › <a class="m"
        href="{{ route('tables.show', $kept->name) }}">{{ $kept->name }}</a> › <a
        href="{{ route('changes.show', $kept->name) }}">Change</a></nav><h1>In bulk <span class="tag">{{ $environment->name }}</span></h1>
        <small>First a dry run: nothing is sent before you have seen what would become of how many rows.</small></div>
    <div class="acts"><button class="btn go" form="bulk-form" name="do_" value="dry">Dry run</button></div>
</div>
<div class="cols"><div>What you set</div><div></div><div>What would happen</div></div>
<form class="sheet" id="bulk-form" method="post" action="{{ route('changes.bulk.store', $kept->name) }}" enctype="multipart/form-data">@csrf
<div class="cell">
    @error('bulk')<p class="fault mb-2" role="alert">{{ $message }}</p>@enderror
    <fieldset><legend><strong>Which rows</strong></legend>
        <p class="mt-1"><label><input type="radio" name="from" value="rows" @checked($wish->from === 'rows')> rows of {{ $kept->name }}</label> <label
            for="where">where</label>
            <input class="f !w-72" id="where" name="where"
                value="{{ old('where', $wish->where) }}" placeholder='status == "open" and cover > 80000' spellcheck="false"></p>
        <p class="mt-2"><label><input type="radio" name="from" value="query" @checked($wish->from === 'query')> rows of a query</label> <label
            class="visually-hidden" for="query">Query</label>
            <select class="f !w-auto" id="query" name="query"><option value="">written here</option>@foreach ($queries as $one)<option
                value="{{ $one->id }}">{{ $one->name }}</option>@endforeach</select></p>
        <p class="mt-1"><label class="visually-hidden" for="sql">Statement</label><textarea class="f w-full" id="sql" name="sql" rows="2" spellcheck="false"
            placeholder="select {{ implode(', ', $kept->key) }} from …">{{ old('sql', $wish->sql) }}</textarea></p>
        <p class="mt-2"><label><input type="radio" name="from" value="block" @checked($wish->from === 'block')> a block, with a line of headings</label></p>
        <p class="mt-1"><label class="visually-hidden" for="block">Block</label><textarea class="f w-full" id="block" name="block" rows="5" spellcheck="false"
            placeholder="{{ implode("\t", $kept->key) }}&#9;due&#10;8812&#9;2031-04-30">{{ old('block', $block) }}</textarea></p>
        <p class="mt-1 text-sm"><label for="file">or a file, CSV or XLSX</label> <input id="file" type="file" name="file" accept=".csv,.tsv,.txt,.xlsx"></p>
    </fieldset>
    <fieldset class="mt-4"><legend><strong>What becomes of them</strong></legend>
        <p class="mt-1"><label><input type="radio" name="act"
            value="set" @checked($wish->do === 'set')> columns are set; those of a block to what it says</label></p>
        @for ($number = 0; $number < max(2, count($wish->sets) + 1); $number++)<p class="mt-1 ml-6 flex items-center gap-2 text-sm"><label
            class="visually-hidden"
            for="set-{{ $number }}">Column</label><select class="f !w-auto min-w-32" id="set-{{ $number }}" name="sets[{{ $number }}][column]"><option
                value="">column</option>
            @foreach ($table->changeable as $column => $one)@if ($one->inUpdate)<option @selected(($chosen = array_keys($wish->sets)[$number] ?? null) === $column)>{{ $column }}</option>@endif @endforeach</select>
            <label for="text-{{ $number }}">to</label> <input class="f" id="text-{{ $number }}" name="sets[{{ $number }}][text]"
                value="{{ $wish->sets[array_keys($wish->sets)[$number] ?? ''] ?? '' }}"
            placeholder="a value, or =an expression: =fee * 2" spellcheck="false"></p>@endfor
        @if ($table->plan->can($act::Create))<p class="mt-2"><label><input type="radio" name="act"
            value="put" @checked($wish->do === 'put')> changed where they are there, created where they are not</label></p>
        <p class="mt-2"><label><input type="radio" name="act" value="create" @checked($wish->do === 'create')> created, all of them</label></p>@endif
        @if ($table->plan->can($act::Delete))<p class="mt-2"><label><input type="radio" name="act"
            value="delete" @checked($wish->do === 'delete')> deleted</label></p>@endif
        @if ($table->plan->actions !== [])<p class="mt-2"><label><input type="radio" name="act"
            value="call" @checked($wish->do === 'call')> called:</label> <label class="visually-hidden"
            for="action">Action</label><select class="f !w-auto" id="action"
                name="action">@foreach ($table->plan->actions as $number => $action)<option value="{{ $number }}"
            @selected($wish->action === $number)>{{ $action->name }}</option>@endforeach</select></p>@endif
    </fieldset>
</div>
<div class="spine"><span @class(['node', 'ok' => $dry !== null && $dry['counts']['refused'] === 0, 'bad' => $dry !== null && $dry['counts']['refused'] > 0, 'no' => $dry === null])>1</span></div>
<div class="cell">
@if ($dry === null)
    <p class="s">Choose rows and what becomes of them, then press “Dry run”.</p>
    @if ($recent->isNotEmpty())<h2 class="mt-4">Changes in bulk so far</h2><ul class="mt-1">@foreach ($recent as $one)<li><a
        href="{{ route('changes.bulk.set', ['name' => $kept->name, 'changes' => $one->id]) }}">{{ $one->about }}</a> <span
            class="s">{{ $one->state->words() }}, {{ $show::ago($one->created_at) }}</span></li>@endforeach</ul>@endif
@else
    @php($words = ['create' => 'would be created', 'update' => 'would be changed', 'delete' => 'would be deleted', 'call' => 'would be called on', 'same' => 'stay as they are', 'refused' => 'do not fit'])
    @if ($dry['unmatched'] !== [])<p class="diagnosis">Not taken over, since the table has no such column: {{ implode(', ', $dry['unmatched']) }}.</p>@endif
    <ul>@foreach ($words as $kind => $what)@if ($dry['counts'][$kind] > 0)<li><strong
        @class(['fault' => $kind === 'refused'])>{{ $show::count($dry['counts'][$kind], 'row') }}</strong> {{ $what }}</li>@endif @endforeach
        @if (array_sum($dry['counts']) === 0)<li>No row is concerned.</li>@endif</ul>
    @if (array_sum($dry['counts']) - $dry['counts']['same'] > 0)<p class="mt-2"><button class="btn go" name="do_"
        value="keep">Make {{ $show::count(array_sum($dry['counts']) - $dry['counts']['same'], 'change') }} pending</button>
        <span class="s">nothing is sent yet</span></p>@endif
    @foreach (['refused', 'create', 'update', 'delete', 'call', 'same'] as $kind)
        @continue(($dry['shown'][$kind] ?? []) === [])
        <h2 class="mt-3">{{ ucfirst($words[$kind]) }}{{ $dry['counts'][$kind] > count($dry['shown'][$kind])
            ? ', ten of '.$show::number($dry['counts'][$kind]) : '' }}</h2>
        <div class="scroll mt-1" tabindex="0" role="region" aria-label="Rows that {{ $words[$kind] }}"><table class="rows"><tbody>
        @foreach ($dry['shown'][$kind] as $step)<tr><td class="n">{{ $step->key === [] ? 'new' : implode(' · ', $step->key) }}</td><td class="wrap m">
            @foreach ($step->change->after ?? [] as $name => $value)@php($type = ($table->plan->columns[$name] ?? null)?->type->name() ?? 'text')
            {{ $name }} @if ($step->change->kind === $act::Update)<span
                class="s">{{ $show::cell($step->change->before[$name] ?? null, $type) }}</span> → @endif
            {{ isset($step->faults[$name]) ? $value : $show::cell($value, $type) }}{{ $loop->last ? '' : ', ' }}@endforeach</td>
            <td class="wrap fault">{{ implode(' ', array_map(fn ($column, $fault) => trim("$column: $fault", ': '), array_keys($step->faults),
                $step->faults)) }}</td></tr>@endforeach
        </tbody></table></div>
    @endforeach
@endif
</div>
</form>
@endsection
