<div id="build" data-url="{{ route('queries.build') }}" @if ($sql !== null) data-sql="{{ $sql }}" @endif data-at="{{ $at }}" data-length="{{ $length }}">
@if ($refused !== null)<p class="diagnosis my-2" role="alert">{{ $refused }}</p>@endif
@if ($build->select === null)
    @if ($why === null || $length === 0)
        <div class="build-row"><label for="build-table">Begin with</label>
            <select class="f !w-auto" id="build-table" data-build='{"do":"begin"}' data-build-field="table"><option value="">a table</option>
                @foreach ($build->names as $name)<option>{{ $name }}</option>@endforeach</select></div>
        @if ($build->names === [])<p class="s">No table is kept here yet.</p>@endif
    @else
        <p class="note my-2" role="note">{{ $why }} The text stays as it is.</p>
    @endif
@else
    @php($offered = $build->offered())
    <h3 class="build-head">Tables</h3>
    @foreach ($build->items('from') as $number => $text)
        <div class="build-row"><code class="grow">{{ $text }}</code>
            @if ($number > 0)<button type="button" class="x" data-build='{{ json_encode(['do' => 'drop-join', 'item' => $number]) }}'
                aria-label="Take away {{ $text }}">×</button>@endif</div>
    @endforeach
    <div class="build-row"><select class="f grow" aria-label="Join a table" data-joining><option value="">Join a table</option>
        @foreach ($build->ties() as $tie)<option
            value="{{ json_encode(['do' => 'join'] + array_diff_key($tie, ['label' => 1])) }}">{{ $tie['label'] }}</option>@endforeach
        <optgroup label="Any other, by columns of your choice">
            @foreach ($build->names as $name)<option @selected($name === $joining)>{{ $name }}</option>@endforeach</optgroup></select>
        <label class="flex items-center gap-1"><input type="checkbox" data-build-field="kind" value="left join"> keep rows without a match</label></div>
    @if ($joining !== '' && in_array($joining, $build->names, true))
        <div class="build-row" data-build-group><span class="s">where its</span>
            <select class="f !w-auto" aria-label="Column of {{ $joining }}"
                data-build-field="there">@foreach ($build->columnsOf($joining) as $name)<option>{{ $name }}</option>@endforeach</select>
            <span class="s">is</span><select class="f !w-auto" aria-label="Column of the tables before" data-build-field="here">
                @include('queries.build-columns')</select>
            <button type="button" class="btn small" data-build='{{ json_encode(['do' => 'join', 'table' => $joining]) }}'>Join {{ $joining }}</button></div>
    @endif

    <h3 class="build-head">Columns</h3>
    @foreach ($build->columns as $number => $one)
        <div class="build-row">
        @if ($one->use === null || $one->isEverything())<code class="grow">{{ $one->text === '*' ? 'all columns' : $one->text }}</code>
        @else
            <select class="f !w-auto" aria-label="What is made of {{ $one->column }}"
                data-build='{{ json_encode(['do' => 'use-column', 'item' => $number, 'zone' => $one->zone ?? '']) }}'
                data-build-field="use">@foreach ($build->uses($one) as $use)
                    <option value="{{ $use->value }}" @selected($use === $one->use)>{{ $use->label() }}</option>@endforeach</select>
            <code class="grow">{{ $one->column === '*' ? 'rows' : $one->column }}</code>
            @if ($one->use->isTime() && $build->zone !== 'UTC')<select class="f !w-auto" aria-label="Clock of {{ $one->column }}" data-build-field="zone"
                data-build='{{ json_encode(['do' => 'use-column', 'item' => $number, 'use' => $one->use->value]) }}'>
                @foreach (array_unique(['UTC', $build->zone, $one->zone ?? 'UTC']) as $zone)<option @selected($zone === ($one->zone ?? 'UTC'))>{{ $zone }}</option>@endforeach</select>@endif
            <input class="f !w-28" value="{{ $one->alias }}" placeholder="{{ $one->use->isMeasure() ? 'a name' : $one->name() }}"
                aria-label="Name of {{ $one->expression }}"
                data-build='{{ json_encode(['do' => 'name-column', 'item' => $number]) }}' data-build-field="value">
        @endif
            @if ($number > 0)<button type="button" class="x" data-build='{{ json_encode(['do' => 'move-column', 'item' => $number]) }}'
                aria-label="{{ $one->name() }} one place to the front" title="one place to the front">↑</button>@endif
            <button type="button" class="x" data-build='{{ json_encode(['do' => 'drop-column', 'item' => $number]) }}'
                aria-label="Take away {{ $one->text }}">×</button></div>
    @endforeach
    <div class="build-row"><select class="f grow" aria-label="Add a column" data-build='{"do":"add-column"}' data-build-field="column"><option
        value="">Add a column</option>
        @include('queries.build-columns')</select>
        <button type="button" class="btn small" data-build='{"do":"add-count"}'>Count rows</button>
        <label class="flex items-center gap-1"><input type="checkbox" value="1" @checked($build->select->distinct) data-build='{"do":"distinct"}'
            data-build-field="value"> each row once</label></div>
    @if ($build->items('group') !== [])<p class="s">One row for each {{ implode(', ', $build->items('group')) }}.</p>@endif

    <h3 class="build-head">Conditions, all of them</h3>
    @foreach ($build->conditions as $clause => $conditions)
        @foreach ($conditions as $number => $one)
        @php($place = ['clause' => $clause, 'item' => $number])
        <div class="build-row" data-build-group>
        @if ($one->how === null)<code class="grow">{{ $one->text }}</code>
        @else
            <code>{{ $one->column }}</code>
            <select class="f !w-auto" aria-label="How {{ $one->column }} is compared"
                data-build='{{ json_encode(['do' => 'change-condition'] + $place) }}' data-build-field="how">
                @foreach (\DeepSpring\Sql\Build\HowCompared::cases() as $how)<option
                    value="{{ $how->value }}" @selected($how === $one->how)>{{ $how->label() }}</option>@endforeach</select>
            <input class="f grow" value="{{ $one->given() }}" aria-label="Value for {{ $one->column }}" @if ($one->how->wants() === '') hidden @endif
                placeholder="{{ $one->how->wants() }}" data-build='{{ json_encode(['do' => 'change-condition'] + $place) }}' data-build-field="value">
        @endif
            <button type="button" class="x" data-build='{{ json_encode(['do' => 'drop-condition'] + $place) }}'
                aria-label="Take away {{ $one->text }}">×</button></div>
        @endforeach
    @endforeach
    <div class="build-row" data-build-group><select class="f !w-auto max-w-44" aria-label="Column of a condition" data-build-field="column">
        @if ($build->measures() !== [])<optgroup label="What is counted">@foreach ($build->measures() as $name)<option>{{ $name }}</option>@endforeach</optgroup>@endif
        @include('queries.build-columns')</select>
        <select class="f !w-auto" aria-label="How it is compared"
            data-build-field="how">@foreach (\DeepSpring\Sql\Build\HowCompared::cases() as $how)<option
            value="{{ $how->value }}">{{ $how->label() }}</option>@endforeach</select>
        <input class="f grow" placeholder="a value, or :name to ask for it" aria-label="Value of a condition" data-build-field="value" data-build-enter>
        <button type="button" class="btn small" data-build='{"do":"add-condition"}'>Add</button></div>

    <h3 class="build-head">Order and number</h3>
    @foreach ($build->items('order') as $number => $text)
        @php($down = preg_match('/\sdesc$/i', $text) === 1)
        <div class="build-row"><code class="grow">{{ preg_replace('/\s+(?:asc|desc)$/i', '', $text) }}</code>
            <button type="button" class="btn small" data-build='{{ json_encode(['do' => 'turn-order', 'item' => $number]) }}'
                aria-label="{{ $down ? 'Highest first. Turn' : 'Lowest first. Turn' }}">{{ $down ? 'highest first' : 'lowest first' }}</button>
            <button type="button" class="x" data-build='{{ json_encode(['do' => 'drop-order', 'item' => $number]) }}'
                aria-label="Take away the order by {{ $text }}">×</button></div>
    @endforeach
    <div class="build-row"><select class="f grow" aria-label="Order by" data-build='{"do":"add-order"}' data-build-field="column"><option
        value="">Order by</option>
        @if ($build->measures() !== [])<optgroup label="What is counted">@foreach ($build->measures() as $name)<option>{{ $name }}</option>@endforeach</optgroup>@endif
        @include('queries.build-columns')</select>
        <label class="flex items-center gap-1">first <input class="f !w-20" inputmode="numeric" value="{{ $build->items('limit')[0] ?? '' }}"
            placeholder="all" aria-label="How many rows"
            data-build='{"do":"limit"}' data-build-field="value"> rows</label></div>
@endif
</div>
