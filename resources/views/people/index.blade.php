@extends('layouts.app')
@section('title', 'People')
@section('content')
@php($show = \App\View\Show::class)
<div class="head">
    <div><h1>People</h1><small>who can sign in, and as what</small></div>
    <a class="ml-auto" href="{{ route('people.log') }}">Who did what</a>
</div>
<div class="grid gap-10 px-6 pb-10 lg:grid-cols-[minmax(0,1fr)_340px]">
    <div>
        @if ($made)
            <div class="note mb-4" role="status">
                <p>
                    <strong>A link for {{ $made['for'] }}</strong>, which works once, within {{ $made['until'] }}.
                    {{ $made['mail'] ?? 'Hand it over yourself: this installation sends no mail.' }}
                </p>
                <p class="mt-1 flex flex-wrap items-center gap-3">
                    <code class="break-all">{{ $made['link'] }}</code>
                    <button type="button" class="btn small" data-copy="{{ $made['link'] }}">Copy</button>
                </p>
            </div>
        @endif
        <form class="mb-3 flex gap-3" role="search">
            <label class="visually-hidden" for="q">Find somebody</label>
            <input class="f !w-72" id="q" name="q" value="{{ $search }}" placeholder="name or email">
            <label class="visually-hidden" for="sort">Sort by</label>
            <select class="f !w-auto" id="sort" name="sort" data-submits>
                @foreach (['name' => 'by name', 'email' => 'by email', 'role' => 'by role', 'seen_at' => 'last seen first'] as $key => $label)
                    <option value="{{ $key }}" @selected($sort === $key)>{{ $label }}</option>
                @endforeach
            </select>
            <button class="btn">Find</button>
        </form>
        @if ($people->isEmpty())
            <div class="empty !m-0"><h2>Nobody matches</h2><p class="mt-2"><a href="{{ route('people.index') }}">Show everybody</a></p></div>
        @else
            <table class="rows">
                <thead><tr><th>Name</th><th>Email</th><th>Role</th><th>Second factor</th><th>Last seen</th><th></th></tr></thead>
                <tbody>
                @foreach ($people as $one)
                    <tr @class(['dim' => $one->isOff()])>
                        <td class="wrap">
                            {{ $one->name }}
                            @if ($one->id === auth()->id())<span class="tag">you</span>@endif
                            @if ($one->isOff())<span class="tag i">off</span>@endif
                        </td>
                        <td class="wrap">{{ $one->email }}@error("person.$one->id")<p class="fault" role="alert">{{ $message }}</p>@enderror</td>
                        <td>
                            <form method="post" action="{{ route('people.role', $one) }}">
                                @csrf
                                <select class="f !w-auto" name="role" data-submits aria-label="Role of {{ $one->name }}">
                                    @foreach (\App\Models\Role::cases() as $role)
                                        <option value="{{ $role->value }}" @selected($role === $one->role)>{{ $role->value }}</option>
                                    @endforeach
                                </select>
                                <noscript><button class="btn small">Change</button></noscript>
                            </form>
                        </td>
                        <td>{{ $one->hasSecondFactor() ? 'in use' : ($one->provider_subject ? 'at the provider' : '—') }}</td>
                        <td>{{ $show::ago($one->seen_at) }}</td>
                        <td class="whitespace-nowrap">
                            @if ($one->isOff())
                                <x-act :to="route('people.on', $one)" label="Switch on" :of="$one->name" />
                            @else
                                <x-act :to="route('people.reset', $one)" label="Password link" :of="'for '.$one->name" />
                                · <x-act :to="route('people.off', $one)" label="Switch off" :of="$one->name" />
                            @endif
                        </td>
                    </tr>
                @endforeach
                </tbody>
            </table>
            <x-pages :of="$people" one="person" many="people" />
        @endif
        @if ($invitations->isNotEmpty())
            <h2 class="mb-2 mt-6">Invited, not here yet</h2>
            <table class="rows">
                <thead><tr><th>Email</th><th>Role</th><th>By</th><th>Until</th><th></th></tr></thead>
                <tbody>
                @foreach ($invitations as $one)
                    <tr>
                        <td class="wrap">{{ $one->email }}</td>
                        <td>{{ $one->role->value }}</td>
                        <td>{{ $one->madeBy?->name ?? 'command line' }}</td>
                        <td>{{ $show::at($one->expires_at) }}</td>
                        <td><x-act :to="route('people.invitations.take-back', $one)" method="delete" label="Revoke"
                            :of="'the invitation of '.$one->email" /></td>
                    </tr>
                @endforeach
                </tbody>
            </table>
        @endif
    </div>
    <div>
        <form method="post" action="{{ route('people.invite') }}">
            @csrf
            <h2 class="mb-2">Invite somebody</h2>
            <x-field name="email" label="Email" type="email" :value="old('email')" placeholder="edda@saltmarsh.example" required />
            <x-field name="name" label="Name, if you know it" :value="old('name')" maxlength="190" />
            <div class="field">
                <label for="role">As</label>
                <select class="f" id="role" name="role">
                    <option value="analyst" @selected(old('role') === 'analyst')>analyst: queries tables</option>
                    <option value="builder" @selected(old('role') === 'builder')>builder: connects sources too</option>
                    <option value="administrator" @selected(old('role') === 'administrator')>administrator: people and hosts too</option>
                </select>
            </div>
            <button class="btn go">Make the invitation</button>
            <p class="s mt-2">
                {{ $mail ? 'It is sent by mail, and shown here to copy.' : 'The link is shown here to copy.' }}
                The same from the command line: <code>./spring person add</code>
            </p>
        </form>
        <section class="mt-8" aria-labelledby="groups">
            <h2 class="mb-2" id="groups">Groups</h2>
            @forelse ($groups as $group)
                <p><a href="{{ route('people.group', $group) }}">{{ $group->name }}</a>
                    <small>{{ $show::count($group->members_count, 'person', 'people') }}</small></p>
            @empty
                <p class="s">There is none. Rights to change records can be given to a group, and hold for everybody who is in it.</p>
            @endforelse
            <form class="mt-2 flex flex-wrap items-end gap-2" method="post" action="{{ route('people.group.make') }}">
                @csrf
                <x-field name="group" label="A new group" :value="old('group')" maxlength="100" placeholder="Registrars" required />
                <button class="btn mb-3">Make it</button>
            </form>
        </section>
        <form method="post" action="{{ route('people.policy') }}" class="mt-8">
            @csrf
            <h2 class="mb-2">Second factor</h2>
            <p class="s mb-2">These sign in with a second factor; who has none sets one up first.</p>
            @foreach (\App\Models\Role::cases() as $role)
                @php($isRequired = in_array($role->value, $required, true))
                <p><label><input type="checkbox" name="roles[]" value="{{ $role->value }}" @checked($isRequired)> {{ $role->value }}s</label></p>
            @endforeach
            <button class="btn mt-2">Require it</button>
        </form>
    </div>
</div>
@endsection
