@extends('layouts.app')
@section('title', 'Who did what')
@section('content')
@php($show = \App\View\Show::class)
<div class="head">
    <div><h1>Who did what</h1><small>added to and never changed; entries go after {{ \App\View\Show::count($days, 'day') }}</small></div>
    <a class="btn ml-auto" href="{{ route('people.log.export', array_filter(['q' => $search, 'action' => $action])) }}">As CSV</a>
</div>
<div class="px-6 pb-10">
    <form class="mb-3 flex gap-3" role="search">
        <label class="visually-hidden" for="q">Search the log</label>
        <input class="f !w-72" id="q" name="q" value="{{ $search }}" placeholder="name, thing, address">
        <label class="visually-hidden" for="action">Only</label>
        <select class="f !w-auto" id="action" name="action" data-submits>
            <option value="">everything</option>
            @foreach ($actions as $one)<option @selected($one->value === $action)>{{ $one->value }}</option>@endforeach
        </select>
        <button class="btn">Find</button>
    </form>
    @if ($entries->isEmpty())
        <div class="empty !m-0"><h2>No entry matches</h2><p class="mt-2"><a href="{{ route('people.log') }}">Show everything</a></p></div>
    @else
        <table class="rows">
            <thead><tr><th>When ({{ $show::zone() }})</th><th>Who</th><th>Did</th><th>To</th><th>Detail</th><th>From</th></tr></thead>
            <tbody>
            @foreach ($entries as $one)
                <tr>
                    <td>{{ $show::at($one->at, true) }}</td>
                    <td>{{ $one->person_name }}</td>
                    <td>{{ $one->action }}</td>
                    <td class="wrap">{{ $one->subject }}</td>
                    <td class="wrap">{{ $one->detail === '' ? '—' : $one->detail }}</td>
                    <td class="m">{{ $one->ip ?? '—' }}</td>
                </tr>
            @endforeach
            </tbody>
        </table>
        <x-newer-older :of="$entries" />
    @endif
</div>
@endsection
