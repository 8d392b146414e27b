@php($show = \App\View\Show::class)
@php($state = \DeepSpring\Change\ChangeState::class)
@php($isUnderWay = $set->state->isUnderWay())
<div id="look" @if ($isUnderWay) hx-get="{{ route('changes.look', ['name' => $set->table, 'set' => $set->id, 'under-way' => 1]) }}" hx-trigger="every 1s"
    hx-swap="outerHTML" data-quiet @endif>
@php($total = array_sum($look->counts))
<div class="cols"><div>What would change</div><div></div><div aria-live="polite">
    @if ($isUnderWay)<strong>{{ ucfirst($set->state->words()) }}</strong>: {{ $show::number($look->counts['done'] ?? 0) }} of {{ $show::count($total,
        'change') }} done{{
        ($look->counts['refused'] ?? 0) > 0 ? ', '.$show::number($look->counts['refused']).' refused' : '' }}{{ $set->waits_for === null ? '' : ', waits for '.$set->waits_for }}
    @elseif ($set->state === \App\Models\ChangeSetState::Waiting)Waits for a second person to approve it
    @else What would be sent · {{ $show::count($look->counts['pending'] ?? 0, 'pending change') }}, {{ $show::count($look->requests(),
        'request') }} at most @endif
</div></div>
@if ($set->ended !== null && ! $isUnderWay)<p class="note live mt-2" role="status">{{ $set->ended }}</p>@endif
@if ($look->trouble !== null)<div class="diagnosis" role="alert">{{ $look->trouble }}</div>@endif
@if ($total === 0)
    <p class="s mt-3">Nothing is pending. Change a cell above, paste a block, or add a row; nothing is sent before you have looked at it here.</p>
@else
<div class="sheet changes">
@foreach ($look->changes as $change)
    @php($faults = $look->faults($change))
    @php($doubts = $look->doubts($change))
    @php($isBad = $faults !== [] || in_array($change->state, [$state::Conflict, $state::Unknown, $state::Refused], true))
    <div class="cell"><table class="rows"><tbody>
        @php($names = $change->after === [] ? [''] : array_keys($change->after))
        @foreach ($names as $name)
            @php($type = ($table->plan->columns[$name] ?? null)?->type->name() ?? 'text')
            <tr><td class="n w-20">{{ $loop->first ? $change->record() : '' }}</td><td>{{ $name === '' ? ($change->kind ===
                \DeepSpring\Change\RecordAct::Call ? ($table->plan->actions[$change->action]->name ?? 'an action') : $change->kind->words()) : $name }}</td>
                <td class="m wrap">@if ($name !== '')@if ($change->kind === \DeepSpring\Change\RecordAct::Update)<span
                    class="s">{{ $show::cell($change->before[$name] ?? null, $type) }}</span> → @endif
                    @if (isset($change->faults[$name]) && $change->state === $state::Pending){{ $change->after[$name] }}@else{{ $show::cell($change->after[$name], $type) }}@endif
                    @if (isset($faults[$name]))<br><span class="fault">{{ $faults[$name] }}</span>@elseif (isset($doubts[$name]))<br><span
                    class="doubt">{{ $doubts[$name] }}</span>@endif @endif</td></tr>
        @endforeach
        @foreach (array_diff_key($faults, $change->after) as $name => $fault)<tr><td></td><td>{{ $name }}</td><td
            class="fault wrap">{{ $fault }}</td></tr>@endforeach
    </tbody></table></div>
    <div class="spine"><span @class(['node', 'ok' => $change->state === $state::Done, 'bad' => $isBad, 'no' => ! $isBad && $change->state !== $state::Done])><span
        class="visually-hidden">{{ $change->state->value }}</span>{{ $change->state === $state::Done ? '✓'
            : $look->changes->firstItem() + $loop->index }}</span></div>
    <div class="cell">
        @if ($change->state === $state::Conflict)
            <p><strong class="fault">Changed meanwhile.</strong> @foreach ($change->theirs ?? [] as $name => $value)@php($type = ($table->plan->columns[$name] ?? null)?->type->name() ?? 'text')
                <span class="m">{{ $name }}</span>: yours {{ $show::cell($change->after[$name] ?? null,
                    $type) }}, theirs <strong>{{ $show::cell($value, $type) }}</strong>. @endforeach
                {{ $change->theirs === null ? $change->reason : '' }}</p>
            @if ($isMine && ! $isUnderWay)<p class="mt-1 flex gap-2">@foreach (['theirs' => 'Take theirs', 'mine' => 'Keep mine, and send it'] as $how => $what)<x-change.settle
                :set="$set" :change="$change" :how="$how" :what="$what" />@endforeach</p>@endif
        @elseif ($change->state === $state::Unknown)
            <p><strong class="fault">Unknown.</strong> {{ $change->reason }}</p>
            @if ($isMine && ! $isUnderWay)<p class="s mt-1">Sending again looks the record up first. If you looked at the service yourself:</p>
            <p class="mt-1 flex gap-2">@foreach (['done' => 'It was done', 'undone' => 'It was not done'] as $how => $what)<x-change.settle :set="$set"
                :change="$change" :how="$how" :what="$what" />@endforeach</p>@endif
        @elseif ($change->state === $state::Refused)
            <p><strong class="fault">Refused.</strong> {{ $change->reason }}</p>
            @if ($isMine && ! $isUnderWay)<p class="mt-1 flex gap-2"><x-change.settle :set="$set" :change="$change" how="again"
                what="Send it again as it is" /></p>@endif
        @elseif ($change->state === $state::Done)
            <p>{{ $change->reason ?? 'Done' }}<span
                class="s"> · {{ $show::ago($change->done_at) }}{{ $change->milliseconds === null ? '' : ', '.$show::duration($change->milliseconds) }}{{
                $change->confirmed_at === null ? '' : ', read again since' }}</span></p>
        @elseif ($change->state === $state::Sending)
            <p class="s">On its way …</p>
        @elseif ($faults !== [])
            <p class="s">Not sent until {{ count($faults) === 1 ? 'that is' : 'these are' }} put right.{{ $change->reason === null ? ''
                : ' '.$change->reason }}</p>
        @else
            @php([$head, $body] = explode("\n\n", $look->request($change), 2) + [1 => ''])
            <pre class="ev">{{ strtok($head, "\n") }}{{ $body === '' ? '' : "\n$body" }}</pre>
            <details class="mt-1"><summary class="s">{{ $look->besides($change) }} Headers</summary><pre class="ev mt-1">{{ $head }}</pre></details>
            @if ($change->reason !== null)<p class="fault mt-1">{{ $change->reason }}</p>@endif
        @endif
        @if ($isMine && ! $isUnderWay && $set->state !== \App\Models\ChangeSetState::Waiting && ! in_array($change->state, [$state::Done, $state::Sending], true))<form
            class="mt-1" method="post" action="{{ route('changes.rows', $set->table) }}">@csrf<input type="hidden" name="do" value="drop"><input type="hidden"
            name="change" value="{{ $change->id }}"><input type="hidden" name="set" value="{{ $set->id }}"><button
                class="link text-sm">Take it back</button></form>@endif
    </div>
@endforeach
</div>
<nav class="mt-2 flex gap-4 px-6 text-sm" aria-label="Pages of changes">
    <span class="s">{{ $show::number((int) $look->changes->firstItem()) }} to {{ $show::number((int) $look->changes->lastItem()) }} of {{ $show::number($look->changes->total()) }}</span>
    @foreach ([['Previous', $look->changes->currentPage() - 1, $look->changes->onFirstPage()], ['Next', $look->changes->currentPage() + 1, ! $look->changes->hasMorePages()]] as [$word, $number, $isEnd])
        @unless ($isEnd)<a href="{{ route($set->kind === 'bulk' ? 'changes.bulk.set' : 'changes.show', ['name' => $set->table, $set->kind === 'bulk'
            ? 'changes' : 'set' => $set->id, 'look' => $number]) }}#look"
            hx-get="{{ route('changes.look', ['name' => $set->table, 'set' => $set->id,
                'look' => $number]) }}" hx-target="#look" hx-swap="outerHTML">{{ $word }}</a>@endunless
    @endforeach
</nav>
@endif
</div>
