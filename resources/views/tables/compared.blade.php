@php($value = fn (?string $text) => $text === null ? new \Illuminate\Support\HtmlString('<span class="dim">null</span>') : mb_strimwidth($text, 0, 120, '…'))
<p class="mb-2" id="compared">@if ($comparison->isSame())<strong>The two are the same</strong>: {{ $show::count($comparison->after, 'row') }}.@else
    <strong>{{ $show::number($comparison->came) }}</strong> came, <strong>{{ $show::number($comparison->went) }}</strong>
    went{{ $comparison->changed === null ? '' : ',' }} @if ($comparison->changed !== null)
    <strong>{{ $show::number($comparison->changed) }}</strong> changed @endif
    · {{ $show::count($comparison->before, 'row') }} before, {{ $show::number($comparison->after) }} after @endif</p>
@if ($comparison->changed === null && ! $comparison->isSame())<p class="s mb-2">The table has no key that both have, so a row that changed is one that went
    and one that came.</p>@endif
@if ($comparison->apart !== [])<p class="s mb-2">Only one of the two has {{ implode(', ', $comparison->apart) }}, which is not compared.</p>@endif
@if ($comparison->columns !== [])<p class="mb-2 text-sm">Changed in @foreach ($comparison->columns as $one)<code>{{ $one->column }}</code>
    ({{ $show::count($one->rows, 'row') }}){{ $loop->last ? '.' : ', ' }}@endforeach</p>@endif
@php($sorts = ['rowsChanged' => ['Changed', $comparison->changed], 'rowsCame' => ['Came', $comparison->came], 'rowsWent' => ['Went',
    $comparison->went]])
@php($first = collect(array_keys($sorts))->first(fn (string $sort) => $comparison->{$sort} !== []))
@foreach ($sorts as $of => [$head, $many])
    @if ($comparison->{$of} !== [])
    <details class="mb-2" @if ($of === $first) open @endif><summary>{{ $head }}{{
        $many > count($comparison->{$of}) ? ', the first '.count($comparison->{$of}) : '' }}</summary>
        <div class="scroll mt-1" tabindex="0" role="region" aria-label="{{ $head }}"><table class="rows">
        @if ($of === 'rowsChanged')
            <thead><tr>@foreach (array_keys($comparison->rowsChanged[0]['key']) as $name)<th>{{ $name }}</th>@endforeach<th>What</th></tr></thead><tbody>
            @foreach ($comparison->rowsChanged as $row)<tr>@foreach ($row['key'] as $text)<td class="m">{{ $value($text) }}</td>@endforeach
                <td class="wrap">@foreach ($row['values'] as $name => [$was, $is])<span class="mr-4"><code>{{ $name }}</code> {{ $value($was) }} →
                {{ $value($is) }}</span> @endforeach</td></tr>@endforeach</tbody>
        @else
            <thead><tr>@foreach (array_keys($comparison->{$of}[0]) as $name)<th>{{ $name }}</th>@endforeach</tr></thead><tbody>
            @foreach ($comparison->{$of} as $row)<tr>@foreach ($row as $text)<td>{{ $value($text) }}</td>@endforeach</tr>@endforeach</tbody>
        @endif
        </table></div></details>
    @endif
@endforeach
