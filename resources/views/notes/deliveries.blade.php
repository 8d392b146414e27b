@extends('layouts.app')
@section('title', 'Messages')
@section('content')
<div class="head">
    <div><nav class="crumbs"><a href="{{ route('notes.index') }}">Notes</a> › <a href="{{ route('notes.following') }}">What you follow</a></nav>
        <h1>Messages</h1><small>{{ $follow->thing() }} in {{ $follow->environment->name }}, {{ $follow->by === 'mail' ? 'by mail' :
            'posted to '.$follow->address }}</small></div>
    <div class="acts">@unless ($follow->ended)<form method="post" action="{{ route('notes.follow.test', $follow) }}">@csrf<button
        class="btn" title="and whatever waits before it">Send a test</button></form>@endunless</div>
</div>
<div class="body">
    @if ($follow->ended)<p class="diagnosis mb-3" role="alert">{{ $follow->ended }}</p>@endif
    @forelse ($deliveries as $one)
        <details class="mb-2 delivery"><summary><span class="tag {{ ['sent' => 'g', 'lost' => 'i'][$one->state] ?? ($one->attempts > 0 ? 'o' :
            '') }}">{{ $one->state }}</span> {{ $one->subject }} <small>{{ \App\View\Show::at($one->created_at, true) }} · {{ $one->attempts === 0 ?
            'not sent yet' : \App\View\Show::count($one->attempts, 'attempt') }}@if ($one->next_at && $one->attempts > 0), the next
            {{ \App\View\Show::at($one->next_at, true) }}@endif @if ($one->answer) · {{ $one->answer }}@endif</small></summary>
            <p class="s mt-1"><code>{{ $one->message }}</code></p>
            <pre class="ev tall">{{ $one->body }}</pre></details>
    @empty
        <p>No message was sent yet. One leaves when a note is raised, or when you send a test.</p>
    @endforelse
    <x-pages :of="$deliveries" one="message" />
</div>
@endsection
