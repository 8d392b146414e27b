@extends('layouts.app')
@section('title', "Changing $name")
@section('content')
@php($show = \App\View\Show::class)
<div class="head">
    <div>
        <nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a> › <a
            href="{{ route('sources.show', $source) }}">{{ $source->name }}</a> › <a
            href="{{ route('endpoints.show', [$source, $endpoint]) }}">{{ $name }}</a></nav>
        <h1>Changing records <span class="tag">{{ $environment->name }}</span></h1>
        <small>Which endpoints get and change one record of this table, and which column fills which input.</small>
    </div>
    <div class="acts">
        @can('update', $source)@if ($isDraft)<form method="post" action="{{ route('sources.publish', $source) }}">@csrf<button
            class="btn">Publish</button></form>@endif @endcan
        @if ($kept !== null && $isPublished)<a class="btn" href="{{ route('changes.show', $kept->name) }}">Change rows</a>@endif
        @if ($settings !== null && $hasKey)<button class="btn go" form="change-form">Keep in the draft</button>@endif
    </div>
</div>
@if ($settings === null || ! $hasKey)
    <div class="empty"><h2>{{ $settings === null ? 'There are no columns yet' : 'The table has no key' }}</h2>
        <p class="mt-2">{{ $settings === null ? 'Choose columns under Flatten of the endpoint first.'
            : 'A record is found by its key. Say under Flatten which columns it is.' }} <a
        href="{{ route('endpoints.show', [$source, $endpoint]) }}#flatten">Open the endpoint</a></p></div>
@else
@php($now = $settings->settings)
<div class="cols"><div>What you set</div><div></div><div>What happened</div></div>
<div class="sheet">
<div class="cell">
    @error('change')<p class="fault mb-2" role="alert">{{ $message }}</p>@enderror
    <form id="change-form" method="post" action="{{ route('endpoints.change.update', [$source, $endpoint]) }}">@csrf
    @foreach (\App\Http\Changes\ChangeSettings::ROLES as $role => $title)
        @php($binding = $now[$role] ?? [])
        @php($options = $settings->endpoints($role))
        <fieldset class="mb-3"><legend class="visually-hidden">{{ $title }}</legend>
            <input type="hidden" name="role[{{ $role }}][was]" value="{{ $binding['endpoint'] ?? '' }}">
            <p class="flex items-center gap-2"><label class="w-20" for="role-{{ $role }}"><strong>{{ $title }}</strong></label>
            <x-pick id="role-{{ $role }}" name="role[{{ $role }}][endpoint]"
                :options="['' => $options === [] ? 'no endpoint does that' : 'not from here'] + $options" :value="$binding['endpoint'] ?? ''" /></p>
            @foreach ($settings->inputs($binding['endpoint'] ?? '', $binding) as $input)<p class="mt-1 ml-22 flex items-center gap-2 text-sm"><label
                class="m w-28" for="in-{{ $role }}-{{ $input['name'] }}" title="{{ $input['about'] }}">{{ $input['name'] }}{{ $input['required'] ? ' *'
                    : '' }}</label> ←
                <x-pick id="in-{{ $role }}-{{ $input['name'] }}" name="role[{{ $role }}][inputs][{{ $input['name'] }}]"
                    :options="['' => 'no column'] + array_combine($settings->columns(), $settings->columns())" :value="$input['column']" /></p>@endforeach
        </fieldset>
    @endforeach
    @php($bound = array_column($now['actions'] ?? [], null, 'endpoint'))
    <h2 class="mt-2">Actions</h2>
    @php($number = 0)
    @forelse ($settings->endpoints('actions') as $slug => $title)
        @continue(in_array($slug, array_filter([$now['create']['endpoint'] ?? null, $now['update']['endpoint'] ?? null, $now['delete']['endpoint'] ?? null]), true))
        @php($binding = $bound[$slug] ?? [])
        <fieldset class="mb-2"><legend class="visually-hidden">{{ $title }}</legend>
            <input type="hidden" name="actions[{{ $number }}][was]" value="{{ $binding['endpoint'] ?? '' }}">
            <p class="flex items-center gap-2"><label><input type="checkbox" name="actions[{{ $number }}][endpoint]"
                value="{{ $slug }}" @checked($binding !== [])> {{ $title }}</label>
            @if ($binding !== [])<label class="visually-hidden" for="act-{{ $number }}">What the button says</label><input class="f !w-44"
                id="act-{{ $number }}"
                name="actions[{{ $number }}][name]" value="{{ $binding['name'] ?? '' }}" placeholder="what the button says">@endif</p>
            @foreach ($binding === [] ? [] : $settings->inputs($slug, $binding) as $input)<p class="mt-1 ml-22 flex items-center gap-2 text-sm"><label
                class="m w-28"
                for="act-{{ $number }}-{{ $input['name'] }}">{{ $input['name'] }}{{ $input['required'] ? ' *' : '' }}</label> ←
                <x-pick id="act-{{ $number }}-{{ $input['name'] }}" name="actions[{{ $number }}][inputs][{{ $input['name'] }}]"
                    :options="['' => 'a person fills it'] + array_combine($settings->columns(), $settings->columns())" :value="$input['column']" /></p>@endforeach
            @if ($binding !== [])<p class="mt-1 ml-22 flex items-center gap-2 text-sm"><label class="w-28" for="puts-{{ $number }}">its answer
                fills</label><input class="f m" id="puts-{{ $number }}" name="actions[{{ $number }}][puts]"
                value="{{ implode(', ', array_map(static fn ($column, $path) => "$column = $path", array_keys($binding['puts'] ?? []), $binding['puts'] ?? [])) }}"
                placeholder="note = $.label.address"></p>@endif
        </fieldset>
        @php($number++)
    @empty<p class="s">No endpoint of this source calls anything.</p>@endforelse
    @foreach (['create', 'update', 'delete'] as $role)
        @php($options = $settings->forSeveral($role))
        @php($binding = $now['together'][$role] ?? [])
        @continue($options === [] && $binding === [])
        <fieldset class="mt-3"><legend class="visually-hidden">{{ \App\Http\Changes\ChangeSettings::ROLES[$role] }}, several at once</legend>
            <input type="hidden" name="together[{{ $role }}][was]" value="{{ $binding['endpoint'] ?? '' }}">
            <p class="flex flex-wrap items-center gap-2"><label for="many-{{ $role }}"><strong>{{ \App\Http\Changes\ChangeSettings::ROLES[$role] }}</strong>
                several at once</label><x-pick id="many-{{ $role }}" name="together[{{ $role }}][endpoint]"
                :options="['' => 'one at a time'] + $options" :value="$binding['endpoint'] ?? ''" />
                <label for="most-{{ $role }}">at most</label><input class="f !w-20" id="most-{{ $role }}"
                name="together[{{ $role }}][most]" inputmode="numeric" value="{{ $binding['most'] ?? '' }}" placeholder="100"></p>
            @foreach ($settings->inputs($binding['endpoint'] ?? '', $binding) as $input)<p class="mt-1 ml-22 flex items-center gap-2 text-sm"><label
                class="m w-28" for="many-{{ $role }}-{{ $input['name'] }}">{{ $input['name'] }}{{ $input['required'] ? ' *' : '' }}</label> ←
                <x-pick id="many-{{ $role }}-{{ $input['name'] }}" name="together[{{ $role }}][inputs][{{ $input['name'] }}]"
                    :options="['' => 'no column'] + array_combine($settings->columns(), $settings->columns())" :value="$input['column']" /></p>@endforeach
        </fieldset>
    @endforeach
    <h2 class="mt-3">More</h2>
    @if ($settings->isOData())<p class="mt-1 flex flex-wrap items-center gap-2 text-sm"><label><input type="checkbox" name="batch" value="1"
        @checked(isset($now['batch']))> Several as one <code>$batch</code></label><label for="batch_most">of at most</label><input class="f !w-20"
        id="batch_most" name="batch_most" inputmode="numeric" value="{{ $now['batch']['most'] ?? '' }}" placeholder="50"> requests
        <label><input type="checkbox" name="batch_as_one" value="1" @checked($now['batch']['as_one'] ?? false)> all changes of it in one change set:
        all are done, or none</label></p>@endif
    <p class="mt-1"><label for="offered">Values that are offered</label><textarea class="f mt-1 w-full" id="offered" name="offered" rows="3"
        spellcheck="false"
        placeholder="status: open, closed&#10;house: houses.code">{{ old('offered', $settings->offered()) }}</textarea></p>
    <p class="mt-2 flex flex-wrap items-center gap-2 text-sm"><label for="sends">An update carries</label><x-pick id="sends" name="sends"
        :options="['' => 'what its method usually does',
        'changed' => 'the columns that changed', 'all' => 'all columns']" :value="$now['sends'] ?? ''" /></p>
    <p class="mt-2 flex flex-wrap items-center gap-2 text-sm"><label for="after">Afterwards the kept row is</label><x-pick id="after" name="after"
        :options="['' => 'the record in the answer, or what a get says',
        'get' => 'what a get says', 'nothing' => 'what was sent']" :value="$now['after'] ?? ''" /></p>
    <p class="mt-2 flex flex-wrap items-center gap-2 text-sm"><label for="approval_rows">A second person approves more than</label><input
        class="f !w-20" id="approval_rows"
        name="approval_rows" inputmode="numeric" value="{{ $now['approval']['rows'] ?? '' }}"> rows, <label
            for="approval_in">and always in</label><input class="f !w-36"
        id="approval_in" name="approval_in" value="{{ implode(', ', $now['approval']['in'] ?? []) }}" placeholder="production"></p>
    </form>
</div>
<div class="spine"><span @class(['node', 'ok' => $proof !== [] && ! in_array(false, array_column($proof, 'ok'), true), 'bad' => in_array(false, array_column($proof, 'ok'), true), 'no' => $proof === []])>1</span></div>
<div class="cell" id="proof">
    @if ($settings->proposal->settings !== [] && ($now === [] || array_diff_key($settings->proposal->settings, $now) !== []))
        <p>{{ $now === [] ? 'Nothing is said yet.' : 'More could be said.' }} By what the source has:</p>
        <ul class="mt-1 list-disc pl-5">@foreach ($settings->proposal->reasons as $reason)<li>{{ $reason }}</li>@endforeach</ul>
        @if ($settings->missing !== [])<p class="mt-1">Added to the draft with it, as the metadata of the service describes them:
            @foreach ($settings->missing as $one)<span class="tag">{{ $one['name'] }}</span> @endforeach</p>@endif
        <button class="btn mt-2" form="change-form" name="do" value="propose">Take the proposal</button>
    @elseif ($settings->proposal->settings === [])<p
        class="s">No endpoint of this source stands at the address of this list or below it. Add the ones that get, create, change or
        delete one record, then come back.</p>@endif
    @if ($plan !== null)
        <table class="rows mt-3"><thead><tr><th>column</th><th>in a record that is there</th><th>in a new one</th></tr></thead><tbody>
        @foreach ($changeable as $column => $one)@continue(! $one->inUpdate && ! $one->inCreate)<tr><td class="m">{{ $column }}</td><td
            class="wrap">{{ $one->inUpdate ? 'can be changed'.($one->mayBeEmptied ? ', emptied, too' : '') :
            ($one->why === '' ? 'stays as it is' : $one->why) }}</td><td>{{ $one->inCreate ? ($one->isNeeded ? 'needed' : 'may be given') : '—' }}</td></tr>@endforeach
        </tbody></table>
        <p class="s mt-1">The others stay as they are: @foreach ($changeable as $column => $one)@if (! $one->inUpdate && ! $one->inCreate)<span
            class="m" title="{{ $one->why }}">{{ $column }}</span> @endif @endforeach</p>
        @if ($kept !== null)<form class="mt-3 flex items-end gap-2" method="post" action="{{ route('endpoints.change.prove', [$source, $endpoint]) }}">@csrf
            <p><label for="record">Prove it on the record</label><br><input class="f !w-40" id="record" name="record" value="{{ old('record') }}"
                placeholder="{{ implode(' · ', $kept->key) }}" @error('record') aria-invalid="true" @enderror></p><button
                    class="btn">Get it, and send its own values back</button></form>
        @error('record')<p class="fault" role="alert">{{ $message }}</p>@enderror @endif
        @foreach ($proof as $step)<p class="mt-2"><span @class(['tag', 'g' => $step['ok'], 'i' => ! $step['ok']])>{{ $step['ok'] ? 'works' : 'fails' }}</span>
            <strong>{{ $step['what'] }}</strong>: {{ $step['says'] }}</p>@endforeach
    @endif
</div>
<div class="cell last"><h2>Who may change it in {{ $environment->name }}</h2>
    <p class="s mt-1">Nobody may who is not named here, whatever else they may do. They never see a secret of the source.</p>
    <form class="mt-2" method="post" action="{{ route('endpoints.change.give', [$source, $endpoint]) }}">@csrf
        <p class="flex flex-wrap items-center gap-2"><label for="who">Let</label><select class="f !w-auto" id="who" name="who"><option
            value="">choose …</option>
            @foreach (\App\Models\Role::cases() as $role)<option value="{{ $role->value }}">every {{ $role->value }}</option>@endforeach
            @foreach ($groups as $one)<option value="group {{ $one->id }}">the group {{ $one->name }}</option>@endforeach
            @foreach ($people as $one)<option value="{{ $one->id }}">{{ $one->name }}</option>@endforeach</select>
            @foreach (['create', 'update', 'delete', 'call'] as $kind)<label><input type="checkbox" name="kinds[]"
                value="{{ $kind }}"> {{ ['create' => 'create', 'update' => 'change',
                'delete' => 'delete', 'call' => 'call actions'][$kind] }}</label>@endforeach</p>
        <p class="mt-2 flex flex-wrap items-center gap-2 text-sm"><label for="columns">only columns</label><input class="f !w-44" id="columns"
            name="columns" placeholder="all, or due, note">
            <label for="actions">only actions</label><input class="f !w-44" id="actions" name="actions" placeholder="all, or close-loan"><button
                class="btn small">Give the right</button></p>
        <p class="s mt-1">With no box ticked, all of it.</p>
        @error('who')<p class="fault" role="alert">{{ $message }}</p>@enderror
    </form></div>
<div class="spine"><span @class(['node', 'ok' => $rights->isNotEmpty(), 'no' => $rights->isEmpty()])>2</span></div>
<div class="cell last">
    @if ($rights->isEmpty())<p class="s">Nobody may change records of this table in {{ $environment->name }}.</p>@else
    <table class="rows"><thead><tr><th>who</th><th>may</th><th>columns</th><th>actions</th><th><span
        class="visually-hidden">Take back</span></th></tr></thead><tbody>
    @foreach ($rights as $right)<tr><td>{{ $right->who() }}</td><td>{{ implode(', ', $right->kinds ?? ['everything']) }}</td><td
        class="wrap">{{ implode(', ', $right->columns ?? ['all']) }}</td><td
        class="wrap">{{ implode(', ', $right->actions ?? ['all']) }}</td><td><form method="post"
            action="{{ route('endpoints.change.give', [$source, $endpoint]) }}">@csrf<input type="hidden" name="take"
        value="{{ $right->id }}"><button class="link">Take back<span
            class="visually-hidden"> from {{ $right->who() }}</span></button></form></td></tr>@endforeach
    </tbody></table>@endif
</div>
</div>
@endif
@endsection
