<span id="source-publish" @if ($oob) hx-swap-oob="true" @endif>@if ($source->draft() && $sheet->faults === [])<form method="post"
    action="{{ route('sources.publish', $source) }}">@csrf<button class="btn">Publish</button></form>@endif</span>
