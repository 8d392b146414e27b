<section class="mt-4" aria-label="Chart of the rows">
@if ($fault !== null)
    <p class="note" role="status">{{ $fault }}</p>
@else
    <div class="flex flex-wrap items-center gap-2">
        <label for="shape">Chart</label>
        <select class="f !w-auto" id="shape" name="shape" hx-post="{{ route('queries.chart') }}" hx-target="#chart" hx-trigger="change"
            hx-vals="{{ json_encode(['sql' => $sql]) }}">@foreach ($shapes as $number => $shape)<option value="{{ $number }}"
            @selected($shape == $chosen)>{{ \App\Http\Queries\ChartController::label($shape, $names) }}</option>@endforeach</select>
        <button type="button" class="pill" data-picture="svg">SVG</button><button type="button" class="pill" data-picture="png">PNG</button>
        <small>of all {{ \App\View\Show::count($data->rows, 'row') }}</small>
    </div>
    <div class="chart mt-2">{!! $svg !!}</div>
    @foreach ($data->said as $sentence)<p class="note mt-1">{{ $sentence }}</p>@endforeach
@endif
</section>
