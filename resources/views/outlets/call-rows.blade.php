<div class="scroll" tabindex="0" role="region"
    aria-label="Requests"><table class="rows"><thead><tr><th>When</th><th>{{ $showsFeed ? 'Feed' : 'Who' }}</th><th>As</th><th>Asked</th>
    <th class="n">Rows</th><th class="n">Took</th><th>Answer</th></tr></thead><tbody>
@foreach ($calls as $call)<tr><td><x-moment :at="$call->at" /></td>
    <td>@if ($showsFeed)<a class="m" href="{{ route('outlets.feed', $call->feed_id) }}">{{ $call->feed->name }}</a>@else{{ $call->consumer->name ?? $call->user->name ?? ($call->status === 401 ? 'an unknown key' : 'nobody any more') }}@endif</td>
    <td>{{ $call->form }}</td><td class="m wrap">{{ $call->asked === '' ? '—' : mb_strimwidth($call->asked, 0, 160, '…') }}@if ($call->reason !== null)<br><small>{{ $call->reason }}</small>@endif</td>
    <td class="n">{{ \App\View\Show::number($call->rows) }}</td><td class="n">{{ \App\View\Show::number($call->milliseconds) }} ms</td>
    <td><span @class(['tag', 'g' => $call->status < 400, 'i' => $call->status >= 400])>{{ $call->status }}</span></td></tr>@endforeach
</tbody></table></div>
