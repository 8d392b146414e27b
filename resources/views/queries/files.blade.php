<div class="body !pb-3" id="files" @if (collect($files)->contains(fn ($one) => $one['rows'] === null && $one['fault'] === null)) hx-get="{{ url()->full() }}"
    hx-trigger="load delay:2s" hx-select="#files" hx-swap="outerHTML" data-quiet @endif><h2 class="mb-1">Files of the last hour</h2>
    <table class="rows"><tbody>@foreach ($files as $token => $file)<tr>
        <td class="w-56">@if ($file['fault'] !== null)<span class="tag i">{{ $file['fault'] }}</span>
            @elseif ($file['rows'] === null)<span role="status">Being written: {{ \App\View\Show::count((int) $file['written'], 'row') }} so far</span>
            @else<a href="{{ route('queries.export.give', $token) }}">{{ strtoupper($file['format']) }}, {{ \App\View\Show::count($file['rows'], 'row') }}</a>
            <small>{{ \App\View\Show::bytes((int) $file['bytes']) }}</small>@endif</td>
        <td class="w-28">{{ \App\View\Show::ago(\Illuminate\Support\Carbon::createFromTimestamp($file['at'])) }}</td>
        <td class="m dim">{{ $file['sql'] }}</td></tr>@endforeach
    </tbody></table></div>
