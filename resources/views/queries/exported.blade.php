@if ($fault !== null)
    <div class="diagnosis" role="alert">{{ $fault }}</div>
@else
    <p role="status"><strong>{{ \App\View\Show::count($outcome->rows, 'row') }}</strong> as {{ $format->label() }}, {{ \App\View\Show::bytes($bytes) }}.
        <a href="{{ route('queries.export.give', $token) }}" data-download>Get the file</a> <small>it stays for an hour</small></p>
    @foreach ($outcome->said as $sentence)<p class="note mt-1">{{ $sentence }}</p>@endforeach
@endif
