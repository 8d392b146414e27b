@if ($ask->faults === [])<x-sheet.seen :of="$ask->definition->endpoint" oob />@endif
<span id="draft-state" hx-swap-oob="true">@if ($faultCount > 0)<span class="tag i">not saved: {{ \App\View\Show::count($faultCount,
    'fault') }}</span>@elseif ($source->refresh()->draft() !== null)<span class="tag o">{{ $source->published_version === null ? 'draft' :
    'edits kept as draft' }}</span>@else<span class="tag g">version {{ $source->published_version }}</span>@endif</span>
@include('endpoints.parts.input-faults')
<div id="faults-ask" role="status" hx-swap-oob="true">@foreach ($ask->faultsAt('ask') as $sentence)<p
    class="fault mt-1">{{ ucfirst(trim($sentence)) }}</p>@endforeach</div>
<div id="elsewhere" hx-swap-oob="true"></div>
@unless ($keepsQuestion)<div id="confirm" hx-swap-oob="true"></div>@endunless
<div id="happened-ask-preview" hx-swap-oob="true">@include('endpoints.parts.preview', ['note' =>
    'This is how it would leave. Nothing was sent since the last change.'])</div>
