<h2 class="mb-1 mt-5">Tables in {{ $environment->name }}</h2>
@forelse ($sheet->tables as $table)
    <details class="border-b border-seam py-1"><summary><span class="m">{{ $table->name }}</span>
        <small>{{ $table->title() === '' ? '' : $table->title().' · ' }}{{ $table->is_view ? 'view' : \App\View\Show::count($table->rows, 'row').', '.\App\View\Show::ago($table->refreshed_at) }}</small></summary>
        <div class="flex flex-wrap gap-1 py-1 pl-4">@foreach ($table->keptColumns() as $column)<button type="button" class="pill"
            data-insert="{{ $column->name }}"
            title="{{ $column->label }}{{ $column->about() === '' ? '' : ". {$column->about()}" }}">{{ $column->name }}</button>@endforeach</div>
    </details>
@empty
    <p class="s">None yet. Once a builder keeps one, it can be queried here.</p>
@endforelse
@if ($sheet->live !== [])
    <h2 class="mb-1 mt-4">Not kept, read when asked for</h2>
    @foreach ($sheet->live as $one)
        @foreach ($one->plan->tables() as $plan)
        @php($shape = new \App\Reservoir\TableShape($plan))
        <details class="border-b border-seam py-1"><summary><span class="m">{{ $shape->name }}</span>
            <small>from {{ $one->source->name }}</small></summary>
            <div class="flex flex-wrap gap-1 py-1 pl-4">@foreach ($shape->columns as $column)<button type="button" class="pill"
                data-insert="{{ $column->name }}" title="{{ $column->label }}">{{ $column->name }}</button>@endforeach</div>
        </details>
        @endforeach
    @endforeach
@endif
<details class="mt-4" id="examples"><summary><h2 class="inline">Examples</h2></summary>
    <div hx-get="{{ route('queries.examples') }}" hx-trigger="toggle from:#examples once" data-quiet><p class="s mt-1">Made from your tables …</p></div>
</details>
<details class="mt-4" id="functions"><summary><h2 class="inline">Functions</h2></summary>
    <label class="visually-hidden" for="find-function">Find a function by its name or by what it gives</label>
    <input class="f my-2" type="search" id="find-function" placeholder="name, or what it gives" data-filter="#functions [data-filtered]">
    @foreach (collect(\DeepSpring\Sql\SqlFunctions::all())->groupBy('group') as $group => $functions)
        <div data-filter-group><h3 class="mt-2">{{ $group }}</h3>
        @foreach ($functions as $function)<div class="border-b border-seam py-1 text-sm" data-filtered="{{ $function->name }} {{ $function->says }}">
            <code>{{ $function->form }}</code> <span class="s">{{ $function->says }}</span>
            <button type="button" class="pill" data-insert="{{ $function->example }}">{{ $function->example }}</button></div>@endforeach
        </div>
    @endforeach
</details>
