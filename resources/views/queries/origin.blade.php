<section class="mt-3" aria-label="Where it comes from">
@if ($said !== null)<p class="note" role="status">{{ $said }}</p>
@elseif (isset($beneath))
    <p role="status"><strong>{{ $rows === $most ? 'The first '.\App\View\Show::count($rows, 'row') : \App\View\Show::count($rows, 'row') }} behind
        this row of the result</strong> @if ($hidden !== [])<small>of all groups: it is also grouped by {{ implode(', ', $hidden) }}, which is not shown</small>@endif
        <button type="button" class="btn small" data-insert-below="{{ $beneath }}">Write this statement</button></p>
    <div class="grid-of" data-grid aria-label="Rows beneath" data-numbers="{{ auth()->user()->numbers }}" data-sql="{{ $beneath }}"
        data-origin-url="{{ route('queries.origin') }}"><script type="application/json">{!! $grid->json() !!}</script></div>
@elseif (isset($view))
    <p role="status"><code>{{ $view->name }}</code> is a view of <a
        href="{{ \App\View\Show::sheet($view->endpoint) }}">{{ $view->endpoint->source->described() }}</a>.
        Run that query to see what stands behind {{ $column }} there.</p>
@elseif ($sheet !== null)
    @if ($expression !== null)<p class="mb-1"><code>{{ $expression }}</code> was worked out here, of this row:</p>@endif
    <p class="mb-2" role="status">A row of <a class="m" href="{{ route('tables.show', $table->name) }}">{{ $table->name }}</a>: {{ $sheet->title() }}.
        <a href="{{ route('tables.origin', ['name' => $table->name, 'row' => $sheet->mark, 'column' => $column]) }}">On a page of its own</a></p>
    @include('tables.origin-of')
@elseif ($marks === [])
    <p class="note" role="status">No row of {{ $table->name }} has these values any more: it was refreshed since. Run the query again.</p>
@else
    <p role="status">{{ count($marks) > $most ? 'More than '.\App\View\Show::number($most) : \App\View\Show::number(count($marks)) }} rows of
        <span class="m">{{ $table->name }}</span> have the values shown here{{ $table->key === [] ? '' : '. Show '.implode(', ', $table->key).' as well to tell them apart' }}.
        The first of them: @foreach (array_slice($marks, 0, 10) as $number => $mark)<a href="{{ route('tables.origin', ['name' => $table->name, 'row' => $mark,
            'column' => $column]) }}">{{ $number + 1 }}</a>{{ $loop->last ? '' : ', ' }}@endforeach</p>
@endif
</section>
