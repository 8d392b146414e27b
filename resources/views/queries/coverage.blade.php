@if ($joins !== [])
<section class="mt-4" aria-label="What the joins leave over">
    <h2 class="mb-1">Joins <small>the tables as they are, before WHERE</small></h2>
    @foreach ($joins as $number => $join)
        <div class="border-t border-seam py-2">
            <p class="m">{{ $join->title() }}</p>
            @foreach ([true, false] as $isLeft)
                @php($side = $isLeft ? $join->left : $join->right)
                <p @class(['mt-1', 's' => $side->lone === 0])>{{ $join->sentence($isLeft) }} @if ($side->lone > 0)<button type="button" class="link"
                    hx-post="{{ route('queries.run') }}" hx-vals="{{ json_encode(['sql' => $side->statement]) }}" hx-target="#lone-{{ $number }}"
                    aria-label="See rows of {{ $isLeft ? $join->pair->left->name : $join->pair->right->name }} without a match">See them</button>@endif</p>
                @if ($join->multiplied($isLeft) !== null)<p class="note mt-1">{{ $join->multiplied($isLeft) }}</p>@endif
            @endforeach
            @foreach (array_unique([...$join->left->likely, ...$join->right->likely]) as $sentence)<p class="note mt-1">{{ $sentence }}</p>@endforeach
            <div id="lone-{{ $number }}"></div>
        </div>
    @endforeach
    @if (! $whole && collect($joins)->contains(fn ($join) => $join->isPart()))
        <p class="mt-1"><button type="button" class="btn small" hx-post="{{ route('queries.coverage') }}" hx-target="#coverage"
            hx-vals="{{ json_encode(['sql' => $sql, 'whole' => '1']) }}" hx-disabled-elt="this">Count all rows</button></p>@endif
</section>
@endif
