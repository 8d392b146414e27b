What happened @if ($sheet->try)· tried {{ \App\View\Show::ago($sheet->try->created_at) }} from this server in {{ $environment->name }} ·
    {{ \App\View\Show::count($sheet->try->exchanges->count(),
    'request') }}, {{ \App\View\Show::duration($sheet->try->milliseconds) }}, {{ \App\View\Show::count($sheet->try->records,
    'record') }}@else · not tried yet in {{ $environment->name }}@endif
