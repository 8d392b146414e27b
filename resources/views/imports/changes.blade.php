{{-- What a newer description does to endpoints that are there. --}}
@php($shown = fn (mixed $value): string => mb_strimwidth(\DeepSpring\SourceFile\DocumentChange::shown($value), 0, 80, '…'))
@foreach ($page->newServers() as $server)<p class="note mt-4">The description names the server <code>{{ $server }}</code>. The source stays where it
    stands; change its address on its sheet if it has moved.</p>@endforeach
@if ($merge->kept !== [])
    <h2 class="mb-1 mt-6" id="conflicts">Changed here and in the description <span class="tag o">{{ \App\View\Show::count(count($merge->kept),
        'conflict') }}</span></h2>
    <p class="s mb-1">Yours stays unless you say otherwise. What makes no sense without the other side stays yours in any case.</p>
    <table class="rows"><thead><tr><th>Endpoint</th><th>Where</th><th>Yours</th><th>In the description</th></tr></thead><tbody>
    @foreach ($merge->kept as $number => $one)
        <tr><td>{{ $one['slug'] }}</td><td class="wrap">{{ $one['place'] }}</td>
            <td class="wrap"><label><input type="radio" name="take[{{ $number }}]" value="" checked> keep
                <code>{{ $shown($one['kept']) }}</code></label></td>
            <td class="wrap"><label><input type="radio" name="take[{{ $number }}]" id="take-{{ $number }}"
                value="{{ $one['slug'] }} › {{ $one['place'] }}"> {{ $one['offered'] === null ? 'remove it, as the description did' : 'take' }}
                @if ($one['offered'] !== null)<code>{{ $shown($one['offered']) }}</code>@endif</label></td></tr>
    @endforeach
    </tbody></table>
@endif
@if ($merge->changes !== [] || $merge->gone !== [] || $merge->renamed !== [])
    <h2 class="mb-1 mt-6">What changes in endpoints that are there</h2>
    <table class="rows"><thead><tr><th>Endpoint</th><th>Where</th><th>is</th><th>becomes</th></tr></thead><tbody>
    @foreach ($merge->renamed as $one)<tr><td>{{ $one['slug'] }}</td><td>the input {{ $one['from'] }} in the path</td><td class="m">{{ $one['from'] }}</td>
        <td class="m">{{ $one['to'] }} <span class="s">with what you set for it</span></td></tr>@endforeach
    @foreach ($merge->changes as $slug => $changes)@foreach ($changes as $change)
        <tr><td>{{ $slug }}</td><td class="wrap">{{ implode(' › ', $change->place()) }}</td>
            <td class="m wrap">{{ $shown($change->was) }}</td><td class="m wrap">{{ $shown($change->now) }}</td></tr>
    @endforeach @endforeach
    @foreach ($merge->gone as $slug)<tr><td>{{ $slug }}</td><td colspan="3">is no longer in the description; it stays until you delete it</td>
        </tr>@endforeach
    </tbody></table>
@endif
