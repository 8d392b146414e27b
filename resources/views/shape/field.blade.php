@php($id = 'f-'.substr(hash('xxh128', $field->path), 0, 12))
<li class="seen-field {{ $field->isUsed() ? 'used' : '' }}" data-path="{{ $field->path }}" data-text="{{ mb_strtolower($field->path.' '.implode(' ',
    $field->examples)) }}" data-uses="{{ implode(' ', $field->uses) }}" role="treeitem" id="{{ $id }}" tabindex="-1" @if ($field->below !== [])
    aria-expanded="{{ $depth < 2 && $sheet->fieldCount < 150 || $field->isTouched() && $depth < 3 ? 'true' : 'false' }}" @endif>
    <div class="line">
        @if ($field->below !== [])<button type="button" class="fold" tabindex="-1" aria-hidden="true"></button>@else<span class="fold"></span>@endif
        <span class="n">{{ $field->name }}</span>
        <span class="kind">{{ $field->kind }}</span>
        @if ($field->times < $field->of)<span class="kind" title="in {{ $field->times }} of {{ $field->of }}">{{ $field->of > 0 ? max(1, (int)
            floor(100 * $field->times / $field->of)) : 0 }} %</span>@endif
        @if ($field->nulls > 0)<span class="kind" title="{{ $field->nulls }} of {{ $field->times }} are null">{{ $field->nulls }} null</span>@endif
        <span class="eg">{{ implode(' · ', array_slice($field->examples, 0, 2)) }}</span>
        @if ($field->branch !== null)<span class="tag">table</span>@endif
        <span class="visually-hidden">{{ $field->isUsed() ? 'in the table' : 'not in the table' }}</span>
        <button type="button" class="put" tabindex="-1" data-do="{{ $field->isUsed() ? 'exclude' : 'add' }}"
            aria-label="{{ $field->isUsed() ? 'Leave out' : 'Add' }} {{ $field->path }}">{{ $field->isUsed() ? '−' : '+' }}</button>
    </div>
    @if ($field->below !== [])<ul role="group">@foreach ($field->below as $one)@include('shape.field', ['field' => $one, 'depth' => $depth +
        1])@endforeach</ul>@endif
</li>
