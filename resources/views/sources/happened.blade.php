@include('sources.state', ['oob' => true])
@include('sources.publish', ['oob' => true])
@include('sources.faults', ['oob' => true])
@if ($sheet->try === null) @include('sources.adds', ['oob' => true]) @endif
<p class="text-sm mt-2" id="source-changed" hx-swap-oob="true">@if ($sheet->faults === [])Changed since the test. <button type="button" class="btn small" hx-post="{{ route('sources.test', $source) }}" hx-target="#sheet" hx-swap="outerHTML">Test again</button>@endif</p>
