@extends('layouts.app')
@section('title', $group->name)
@section('content')
<div class="head">
    <div><small><a href="{{ route('people.index') }}">People</a></small><h1>{{ $group->name }}</h1><small>a group: its rights are those of
        everybody in it</small></div>
    <div class="ml-auto"><x-act :to="route('people.group.delete', $group)" method="delete" label="Delete the group" :of="$group->name" /></div>
</div>
<div class="grid gap-10 px-6 pb-10 lg:grid-cols-[minmax(0,1fr)_340px]">
    <div>
        <h2 class="mb-2">In it</h2>
        @if ($members->isEmpty())<p class="s">Nobody yet. Add somebody by their mail address.</p>@else
            <table class="rows">
                <thead><tr><th>Name</th><th>Email</th><th>Role</th><th></th></tr></thead>
                <tbody>
                @foreach ($members as $one)
                    <tr @class(['dim' => $one->isOff()])>
                        <td class="wrap">{{ $one->name }}@if ($one->isOff()) <span class="tag i">off</span>@endif</td>
                        <td class="wrap">{{ $one->email }}</td>
                        <td>{{ $one->role->value }}</td>
                        <td><x-act :to="route('people.group.remove', [$group, $one])" method="delete" label="Take out" :of="$one->name" /></td>
                    </tr>
                @endforeach
                </tbody>
            </table>
            <x-pages :of="$members" one="person" many="people" />
        @endif
        <form class="mt-4 flex flex-wrap items-end gap-2" method="post" action="{{ route('people.group.add', $group) }}">
            @csrf
            <x-field name="email" label="Add somebody" type="email" :value="old('email')" placeholder="edda@saltmarsh.example" list="others" required />
            <datalist id="others">@foreach ($others as $one)<option value="{{ $one->email }}">{{ $one->name }}</option>@endforeach</datalist>
            <button class="btn mb-3">Add</button>
        </form>
    </div>
    <div>
        <form method="post" action="{{ route('people.group.rename', $group) }}">
            @csrf
            <x-field name="group" label="Name" :value="old('group', $group->name)" maxlength="100" required />
            <button class="btn">Rename</button>
        </form>
        <h2 class="mb-2 mt-8">May change records of</h2>
        @forelse ($rights as $right)
            <p><a href="{{ route('endpoints.change', [$right->endpoint->source, $right->endpoint]) }}">{{ $right->endpoint->source->name }} ›
                {{ $right->endpoint->name }}</a> in {{ $right->environment->name }}: {{ implode(', ', $right->kinds ?? ['everything']) }}</p>
        @empty
            <p class="s">Nothing. Whoever builds a source gives rights to groups where its records are changed.</p>
        @endforelse
    </div>
</div>
@endsection
