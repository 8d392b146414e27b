@props(['changed', 'changes', 'show', 'save', 'form'])
<div id="elsewhere" hx-swap-oob="true"><div class="note mx-6 mt-3" role="alert">
    @php($ago = \App\View\Show::ago(\Illuminate\Support\Carbon::createFromTimestamp($changed->at)))
    <strong>{{ $changed->who }} changed this {{ $ago }}, in another tab or elsewhere.</strong>
        What you typed here is not saved yet.
    @if ($changes !== [])
        <table class="rows mt-2 !w-auto"><thead><tr><th>Differs</th><th>saved</th><th>typed here</th></tr></thead><tbody>
        @foreach (array_slice($changes, 0, 12) as $change)<tr><td>{{ implode(' › ', $change->place()) }}</td>
            <td class="m">{{ mb_strimwidth(\DeepSpring\SourceFile\DocumentChange::shown($change->was), 0, 60, '…') }}</td>
            <td class="m">{{ mb_strimwidth(\DeepSpring\SourceFile\DocumentChange::shown($change->now), 0, 60, '…') }}</td></tr>@endforeach
        </tbody></table>
    @endif
    <p class="mt-2"><button type="button" class="btn" hx-get="{{ $show }}" hx-target="#sheet" hx-swap="outerHTML">Use what was saved</button> <button
        type="button" class="btn" hx-post="{{ $save }}" hx-include="{{ $form }}" hx-vals='{"insist": "1"}' hx-target="#sheet"
        hx-swap="outerHTML">Keep what is typed here</button></p>
</div></div>
