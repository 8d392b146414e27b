@props(['tables'])
@foreach ($tables as $table)
    <a class="m" href="{{ route('tables.show', $table->name) }}">{{ $table->name }}</a> <small>{{ \App\View\Show::count($table->rows, 'row') }}</small>
@endforeach
