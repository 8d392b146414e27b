@extends('layouts.app')
@section('title', 'outlets.yaml')
@section('content')
<div class="head">
    <div><nav class="crumbs"><a href="{{ route('outlets.index') }}">Outlets</a></nav>
        <h1>All outlets as a file</h1>
        <small>feeds and their readers, without keys: to keep beside your programs, to compare, to take over elsewhere</small></div>
    <div class="acts"><button type="button" class="btn" data-copy="{{ $text }}">Copy it</button></div>
</div>
<div class="body">
    @if ($fault !== null)<p class="diagnosis max-w-[900px]" role="alert">{{ $fault }} Nothing was changed.</p>@endif
    @if ($fault === null && $changes === [])<p class="note max-w-[900px]" role="status">The text says what is here: nothing would change.</p>
    @elseif ($fault === null && $changes !== null)<div class="note max-w-[900px]" role="status"><strong>Taking it over would change this:</strong>
        <ul class="list-disc pl-5">@foreach ($changes as $change)<li>{{ $change }}</li>@endforeach</ul></div>@endif
    <form method="post" action="{{ route('outlets.file.take') }}" class="max-w-[900px]">@csrf
        <div class="field"><label for="text">outlets.yaml</label><textarea class="f m" id="text" name="text" rows="26" spellcheck="false">{{ $text }}</textarea>
            <small>What is here and not in the text stays as it is. All of the text is taken over, or nothing of it.</small></div>
        <div class="flex flex-wrap items-center gap-3"><button class="btn" name="then" value="compare">Compare with what is here</button>
            @if ($mayTake)<button class="btn go" name="then" value="take">Take it over</button> <label><input type="checkbox" name="insist"
                value="1"> although readers lose
                something</label>@else<span class="s">Administrators can take it over.</span>@endif</div>
    </form>
</div>
@endsection
