@props(['tables'])
@foreach ($tables as $table)
    <a class="m" href="{{ route('tables.show', $table->name) }}">{{ $table->name }}</a> <small>{{ \App\View\Show::count($table->rows, 'row') }}</small>
@endforeach
@if (count($tables) > 0)<a class="btn small ml-2" href="{{ route('queries.create', ['table' => $tables->first()->name]) }}">Query it</a>@endif
