@extends('layouts.app')
@section('title', 'Outbound')
@section('content')
<div class="head"><div><h1>Outbound</h1><small>where requests from here may go</small></div></div>
<div class="grid grid-cols-[minmax(0,1fr)_400px] gap-10 px-6 pb-10">
    <div>
        @if ($hosts->isEmpty())
            <div class="empty !m-0"><h2>Only public addresses</h2><p
                class="mt-2">No private address can be reached. Allow one at the right, host and port, when an API of your own stands there.</p></div>
        @else
            <table class="rows">
                <thead><tr><th>Host</th><th class="n">Port</th><th>Why</th><th>Allowed by</th><th></th></tr></thead>
                <tbody>
                @foreach ($hosts as $host)
                    <tr><td class="m">{{ $host->host }}</td><td class="n">{{ $host->port }}</td><td class="wrap">{{ $host->note ?? '—' }}</td>
                        <td>{{ $host->by?->name ?? 'command line' }}, {{ \App\View\Show::day($host->created_at) }}</td>
                        <td><form method="post" action="{{ route('outbound.destroy', $host) }}">@csrf @method('delete')<button class="link"
                            aria-label="Revoke {{ $host->host }}:{{ $host->port }}">Revoke</button></form></td></tr>
                @endforeach
                </tbody>
            </table>
        @endif
        <p class="s mt-4">Public addresses are reached on ports {{ implode(', ',
            $ports) }}.
            Loopback, private, link-local and carrier networks, multicast and the metadata services of clouds
            are refused, however the address is written and wherever a name or a redirect leads, except for what is listed here.</p>
    </div>
    <form method="post" action="{{ route('outbound.store') }}">
        @csrf
        <h2 class="mb-2">Allow another</h2>
        <div class="field"><label for="host">Host and port</label><input class="f" id="host" name="host" value="{{ old('host', $asked) }}"
            placeholder="lab.saltmarsh.example:8443" required spellcheck="false" @error('host') aria-invalid="true" aria-describedby="host-fault"
            @enderror>@error('host')<p class="fault" id="host-fault">{{ $message }}</p>@enderror</div>
        <div class="field"><label for="note">Why</label><input class="f" id="note" name="note" value="{{ old('note') }}" maxlength="190"></div>
        <button class="btn go">Allow it</button>
        <p class="s mt-3">The same from the command line: <code>./spring allow HOST:PORT</code></p>
    </form>
</div>
@endsection
