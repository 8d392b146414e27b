@extends('layouts.app')
@section('title', 'Compare environments')
@section('content')
<div class="head">
    <div>
        <nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a> › <a
            href="{{ route('sources.show', $source) }}">{{ $source->name }}</a> › <a
            href="{{ route('endpoints.show', [$source, $endpoint]) }}">{{ $name }}</a></nav>
        <h1>{{ $sides[0][0]->name }} against {{ $sides[1][0]->name }}</h1>
    </div>
    <div class="acts">
        <form method="post" action="{{ route('endpoints.compare.try', [$source, $endpoint]) }}">@csrf
            <label class="text-sm">with <select class="f !w-auto" name="with">@foreach ($others as $one)<option value="{{ $one->slug }}"
                @selected($one->id === $sides[1][0]->id)>{{ $one->name }}</option>@endforeach</select></label>
            @if ($source->current()->endpoint($endpoint->slug)?->does()->writes())
                <small>It writes, so it is tried on its sheet, in one environment at a time.</small>
            @else<button
                class="btn go">Try it in both</button>@endif
        </form>
    </div>
</div>
<div class="grid grid-cols-2 gap-10 px-6 pb-4">
    @foreach ($sides as [$one, $try])
        <section>
            <h2 class="mb-1">{{ $one->name }}</h2>
            @if ($try === null)
                <p class="s">Not tried there yet.</p>
            @elseif ($try->succeeded)
                <p><span class="tag g">proven</span> {{ \App\View\Show::ago($try->created_at) }}, {{ \App\View\Show::count($try->records, 'record') }}</p>
            @else
                <p class="mb-1"><span class="tag i">failed</span> {{ \App\View\Show::ago($try->created_at) }}</p><x-diagnosis :of="$try->diagnosis" />
            @endif
        </section>
    @endforeach
</div>
<div class="px-6 pb-10">
@if ($difference === null)
    <p class="s">Once the endpoint is proven in both, the shapes of the two answers and their columns are compared here.</p>
@else
    @php($same = $difference['here'] === [] && $difference['there'] === [] && $difference['types'] === [])
    <h2 class="mb-1">Shape of the answer</h2>
    @if ($same)<p class="mb-4"><span class="tag g">the same</span> every path has the same types in both.</p>
    @else
        <table class="rows mb-4"><thead><tr><th>Path</th><th>{{ $sides[0][0]->name }}</th><th>{{ $sides[1][0]->name }}</th></tr></thead><tbody>
            @foreach (array_slice($difference['here'], 0, 100) as $path)<tr><td class="m">{{ $path }}</td><td>there</td>
                <td><span class="tag i">missing</span></td></tr>@endforeach
            @foreach (array_slice($difference['there'], 0, 100) as $path)<tr><td class="m">{{ $path }}</td><td><span class="tag i">missing</span></td>
                <td>there</td></tr>@endforeach
            @foreach (array_slice($difference['types'], 0, 100, true) as $path => [$left, $right])<tr><td class="m">{{ $path }}</td>
                <td>{{ $left }}</td><td><span class="tag o">{{ $right }}</span></td></tr>@endforeach
        </tbody></table>
    @endif
    <h2 class="mb-1">Columns that it would become</h2>
    @php($names = array_unique([...array_keys($columns[0]), ...array_keys($columns[1])]))
    @php($odd = array_filter($names, fn ($name) => ($columns[0][$name] ?? null) !== ($columns[1][$name] ?? null)))
    @if ($odd === [])<p><span class="tag g">the same</span> {{ \App\View\Show::count(count($names), 'column') }} with the same types.</p>
    @else
        <table class="rows"><thead><tr><th>Column</th><th>{{ $sides[0][0]->name }}</th><th>{{ $sides[1][0]->name }}</th></tr></thead><tbody>
            @foreach ($odd as $column)<tr><td class="m">{{ $column }}</td><td>{{ $columns[0][$column] ?? '—' }}</td>
                <td>{{ $columns[1][$column] ?? '—' }}</td></tr>@endforeach
        </tbody></table>
    @endif
@endif
</div>
@endsection
