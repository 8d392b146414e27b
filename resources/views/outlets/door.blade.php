@extends('layouts.app')
@section('title', 'A door for tools')
@section('content')
<div class="head">
    <div><nav class="crumbs"><a href="{{ route('outlets.index') }}">Outlets</a></nav>
        <h1>A door for tools @if ($door === null)<span class="tag">closed</span>@else<span class="tag g">open</span>@endif</h1>
        <small>tables and feeds for tools that speak with a database themselves: over ODBC, JDBC, or as any client of MariaDB</small></div>
</div>
<div class="body">
    @if ($door === null)<p class="note max-w-[760px]">Nobody can come in. Whoever runs this installation opens the door with a line in <code>.env</code>, such
        as <code>SPRING_DOOR=192.0.2.10:3307</code>, and starts it again. Accounts can be given before that.</p>
    @else<p>It is reached at <span class="m">{{ $door }}</span>, over TLS alone. <a href="{{ route('outlets.door.certificate') }}">Download door.crt</a> <span
        class="s">the certificate that tools check it against</span></p>@endif
    @if (session('given'))
        @php([$given, $password] = session('given'))
        <div class="note my-4" role="status" id="given"><strong>The password of {{ $accounts->firstWhere('id', $given)?->name }}. It is not shown
            again.</strong> <code class="break-all">{{ $password }}</code> <button type="button" class="btn small"
            data-copy="{{ $password }}">Copy it</button></div>
    @endif
    <h2 class="mt-4 mb-1">Accounts</h2>
    @forelse ($accounts as $account)
        <section class="mb-4" aria-labelledby="account-{{ $account->id }}">
            <h3 id="account-{{ $account->id }}"><span class="m">{{ $account->name }}</span> <small>for {{ $account->owner()->name }}
                in {{ $account->environment->name }}; reads
                {{ $account->consumer === null ? 'the tables and feeds that are for people' : 'the feeds of this reader' }},
                {{ \App\View\Show::count($account->at_once, 'connection') }} at the same
                time, statements of at most {{ $account->seconds }} s, {{ \App\View\Show::number($account->rowsADay()) }} rows a
                day</small></h3>
            <p @class(['text-sm', 'note' => $taken[$account->id][1]])>{{ \App\View\Show::count($taken[$account->id][0], 'row') }} today.@if ($taken[$account->id][1])
                That is all it may have: it is locked until the day is over (UTC).@endif</p>
            @if ($door !== null)<dl class="pairs text-sm">@foreach (\App\Outlets\DoorStrings::of($account, $door) as $tool => $string)<dt>{{ $tool }}</dt>
                <dd><span
                class="m break-all">{{ $string }}</span> <button type="button" class="link" data-copy="{{ $string }}"
                aria-label="Copy what {{ $tool }} is given for {{ $account->name }}">copy</button></dd>@endforeach</dl>@endif
            <div class="flex gap-2 mt-1"><x-act :to="route('outlets.door.again', $account)" method="post" label="New password" :of="'for '.$account->name" />
                <x-act :to="route('outlets.door.withdraw', $account)" method="delete" label="Withdraw" :of="'the account '.$account->name" /></div>
        </section>
    @empty<p class="s">There is none yet.</p>@endforelse
    <div class="flex flex-wrap items-end gap-4 mt-3">
        @if ($isNew)<form method="post" action="{{ route('outlets.door.give') }}">@csrf<button
            class="btn">Give me an account in {{ $environment->name }}</button></form>@endif
        @if ($consumers->isNotEmpty())<form class="flex flex-wrap items-end gap-2" method="post" action="{{ route('outlets.door.give') }}">@csrf
            <div class="field !mb-0 max-w-full"><label for="consumer">For a reader with a key</label> <select class="f !w-56 max-w-full" id="consumer"
                name="consumer">@foreach ($consumers as $one)<option value="{{ $one->id }}">{{ $one->name }}</option>@endforeach</select></div>
            <button class="btn">Give it one in {{ $environment->name }}</button></form>@endif
    </div>
    <p class="s mt-4 max-w-[760px]">Such an account can sign in here and nowhere else, and reads what whoever it is for may read, with the rights of
        this moment: what is taken away
        is gone within seconds. It changes nothing. Statements that take longer than they may are ended by the database.</p>
</div>
@endsection
