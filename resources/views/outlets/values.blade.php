@extends('layouts.app')
@section('title', 'What feeds show to whom')
@section('content')
<div class="head">
    <div><nav class="crumbs"><a href="{{ route('outlets.index') }}">Outlets</a></nav>
        <h1>What feeds show to whom</h1>
        <small>what <code>my('house')</code> in the condition of a feed gives, for each person; for readers with a key it is set on their
            own pages</small></div>
</div>
<div class="body">
    @if ($asked === [])<p class="s max-w-[640px]">No feed asks for anything yet. A condition such as <code>house eq my('house')</code> on the sheet of a feed
        shows each reader
        the rows of their own house.</p>
    @else<p>Asked for: @foreach ($asked as $name => $feeds)<code>{{ $name }}</code> <span class="s">by @foreach ($feeds as $feed)<a
        href="{{ route('outlets.feed', $feed) }}">{{ $feed->path() }}</a>{{ $loop->last ? '' : ', ' }}@endforeach</span>{{
        $loop->last ? '' : ' · ' }}@endforeach</p>@endif
    <div class="scroll mt-3" tabindex="0" role="region" aria-label="People"><table class="rows max-w-[900px]">
    <thead><tr><th>Who</th><th>Set</th></tr></thead><tbody>
    @foreach ($people as $one)<tr><td>{{ $one->name }}</td><td>@if ($mayChange)<form class="flex flex-wrap items-center gap-2" method="post"
        action="{{ route('outlets.values.update') }}">@csrf<input type="hidden" name="person" value="{{ $one->id }}"><input class="f m !w-80 max-w-full"
        name="values" value="{{ old('person') == $one->id ? old('values') : \App\Outlets\ReaderValues::written($one->values) }}" placeholder="house = northmere"
        aria-label="What is set for {{ $one->name }}" spellcheck="false" @error("values-$one->id") aria-invalid="true" @enderror><button
        class="btn small">Save</button></form>
        @error("values-$one->id")<p class="fault" role="alert">{{ $message }}</p>@enderror
        @else<span class="m">{{ \App\Outlets\ReaderValues::written($one->values) ?: '—' }}</span>@endif</td></tr>@endforeach
    </tbody></table></div>
    {{ $people->links() }}
</div>
@endsection
