<p class="text-sm mt-2" id="source-changed" @if ($oob) hx-swap-oob="true" @endif>@if ($sheet->changed && $sheet->faults === [])Changed since the test.
    <button type="button" class="btn small" hx-post="{{ route('sources.test', $source) }}" hx-target="#sheet" hx-swap="outerHTML">Test again</button>@endif</p>
