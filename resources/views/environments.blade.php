@extends('layouts.app')
@section('title', 'Environments')
@section('content')
<div class="head"><div><h1>Environments</h1><small>each with its own addresses, secrets, variables and tables</small></div></div>
<div class="grid grid-cols-[minmax(0,1fr)_360px] gap-10 px-6 pb-10">
    <div>
        @error('environment')<p class="diagnosis" role="alert">{{ $message }}</p>@enderror
        <table class="rows">
            <thead><tr><th>Name</th><th>Short name</th><th>Sources with an address</th><th class="n">Tables</th><th></th></tr></thead>
            <tbody>
            @foreach ($all as $one)
                <tr>
                    <td><form method="post" action="{{ route('environments.update', $one) }}" class="flex gap-2">@csrf<input class="f !w-44"
                        name="name" value="{{ $one->name }}" aria-label="Name of {{ $one->name }}"><button class="btn small">Rename</button></form></td>
                    <td class="m">{{ $one->slug }}@if ($one->id === $environment->id) <span class="tag">current</span>@endif</td>
                    <td class="wrap">@forelse ($addresses[$one->slug] ?? [] as $source)<a
                        href="{{ route('sources.show', $source) }}">{{ $source->name }}</a>@unless ($loop->last), @endunless @empty <span
                        class="dim">none</span> @endforelse</td>
                    <td class="n">{{ $tables[$one->id] ?? 0 }}</td>
                    <td>@if (($tables[$one->id] ?? 0) === 0 && ($addresses[$one->slug] ?? []) === [])<form method="post"
                        action="{{ route('environments.destroy', $one) }}">@csrf @method('delete')<button class="link"
                        aria-label="Remove {{ $one->name }}">Remove</button></form>@endif</td>
                </tr>
            @endforeach
            </tbody>
        </table>
        <p class="s mt-3">Which one you work in is shown in the bar at the top; tries, tables and runs say which they used.
            One can be removed once no source has an address in it and it keeps no table.</p>
    </div>
    <form method="post" action="{{ route('environments.store') }}">
        @csrf
        <h2 class="mb-2">Add an environment</h2>
        <div class="field"><label for="name">Name</label><input class="f" id="name" name="name" value="{{ old('name') }}" placeholder="Rehearsal"
            required @error('name') aria-invalid="true" aria-describedby="name-fault" @enderror>@error('name')<p class="fault"
            id="name-fault">{{ $message }}</p>@enderror</div>
        <button class="btn go">Add it</button>
    </form>
</div>
@endsection
