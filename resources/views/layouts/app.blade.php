@extends('layouts.plain')

@section('page')
@php($course = ['watershed' => 'Watershed', 'sources' => 'Sources', 'tables' => 'Tables', 'queries' => 'Queries', 'outlets' => 'Outlets', 'runs' => 'Runs', 'notes' => 'Notes'])
@php($mayBuild = auth()->user()->role->mayBuild())
<a class="visually-hidden" href="#content">Skip to the content</a>
<header class="band">
    <a class="word" href="{{ route('watershed') }}"><x-mark />Deep Spring</a>
    <nav class="course" aria-label="Course">
        @foreach ($course as $key => $label)
            @if ($mayBuild || ! in_array($key, ['sources', 'runs'], true))
                <a href="{{ route($key === 'watershed' ? $key : "$key.index") }}" @if (request()->routeIs($key, "$key.*") || ($key === 'sources' &&
                    request()->routeIs('endpoints.*')) || ($key === 'runs' && request()->routeIs('schedule.*'))) aria-current="page"
                    @endif>{{ $label }}@if ($key === 'notes' && $openNotes > 0) <span
                    class="count">{{ $openNotes > 99 ? '99+' : $openNotes }}<span class="visually-hidden"> open</span></span>@endif</a>
            @endif
        @endforeach
    </nav>
    <div class="r">
        <form method="post" action="{{ route('environment') }}">
            @csrf
            <label>Working in
                <select name="environment" data-submits>
                    @foreach ($environments as $one)
                        <option value="{{ $one->slug }}" @selected($one->id === $environment->id)>{{ $one->name }}</option>
                    @endforeach
                </select>
            </label>
        </form>
        <a href="{{ route('find') }}" data-palette>Find <span class="keyb">/</span></a>
        <details class="menu">
            <summary>{{ auth()->user()->name }}</summary>
            <div>
                <p class="s">{{ ucfirst(auth()->user()->role->value) }}</p>
                @if ($mayBuild)<p><a class="!text-water" href="{{ route('environments.index') }}">Environments</a></p>@endif
                @can('administer')
                    <p><a class="!text-water" href="{{ route('people.index') }}">People</a></p>
                    <p><a class="!text-water" href="{{ route('outbound.index') }}">Outbound</a></p>
                @endcan
                <p><a class="!text-water" href="{{ route('account') }}">Your account</a></p>
                <p><button type="button" data-keys>Keys of this screen</button></p>
                <form method="post" action="{{ route('sign-out') }}">@csrf<button>Sign out</button></form>
            </div>
        </details>
    </div>
</header>
<noscript><p class="no-script"
    role="alert">Without JavaScript most buttons here do nothing: testing, trying and running need it. Switch it on for this address.</p></noscript>
<div id="notice" role="alert" hidden></div>
<main id="content">
    @if (session('notice'))<p class="note mx-6 mt-3" role="status" id="told">{{ session('notice') }}</p>@endif
@yield('content')
</main>
@hasSection('docs')<aside id="docs" aria-label="Documentation" hidden></aside>@endif
<dialog id="palette" aria-label="Find" data-url="{{ route('find') }}">
    <input class="f" id="palette-text" role="combobox" aria-expanded="true" aria-controls="palette-list" aria-autocomplete="list"
        aria-label="Find a screen, source, endpoint, table, column, query or run" autocomplete="off" spellcheck="false"
        placeholder="a screen, source, table, column, query or run">
    <div id="palette-list" role="listbox" aria-label="Found"></div>
    <p class="s"><span class="keyb">↑</span> <span class="keyb">↓</span> choose · <span class="keyb">Enter</span> open ·
        <span class="keyb">Esc</span> close</p>
</dialog>
<dialog id="keys" aria-labelledby="keys-title">
    <h2 id="keys-title">Keys of this screen</h2>
    <table class="rows my-3">
        <tbody>
        <tr><td><span class="keyb">/</span></td><td>find a screen, source, table, column, query or run; also <span class="keyb">Ctrl K</span></td></tr>
        @hasSection('go')<tr><td><span class="keyb">Ctrl Enter</span></td><td>@yield('go')</td></tr>@endif
        @hasSection('strata')<tr><td><span class="keyb">[</span> <span class="keyb">]</span></td><td>to the stratum above, below</td></tr>@endif
        <tr><td><span class="keyb">?</span></td><td>this list</td></tr>
        </tbody>
    </table>
    <button type="button" class="btn" data-close>Close</button>
</dialog>
@endsection
