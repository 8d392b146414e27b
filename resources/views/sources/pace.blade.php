<div id="source-pace" @if ($oob ?? false) hx-swap-oob="true" @endif>
    @if ($sheet->pace->leftAlone !== null)
        <div class="diagnosis" role="status">
            <p><strong>{{ $source->name }} gets no requests for now.</strong> {{ $sheet->pace->leftAlone }}</p>
            <p class="mt-1">{{ $sheet->pace->until }}</p>
            <form method="post" action="{{ route('sources.pace', $source) }}" class="mt-2">@csrf<button class="btn small"
                id="close-breaker">Resume requests</button></form>
        </div>
    @elseif ($sheet->pace->slowed !== null)
        <p class="note"><strong>{{ $sheet->pace->slowed[0] }}</strong> {{ $sheet->pace->slowed[1] }}</p>
    @endif
    <p class="s">{{ $sheet->pace->summary }}</p>
</div>
