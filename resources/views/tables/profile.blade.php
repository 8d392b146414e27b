@extends('layouts.app')
@section('title', $table->name.': columns')
@php($show = \App\View\Show::class)
@section('content')
<div class="head">
    <div><nav class="crumbs"><a href="{{ route('tables.index') }}">Tables</a> › <a href="{{ route('tables.show', $table->name) }}">{{ $table->name }}</a></nav>
        <h1>Columns <span class="tag">{{ $environment->name }}</span></h1>
        <small>@if ($last){{ $show::count($last->rows, 'row') }} looked at {{ $show::ago($last->at) }}, in
            {{ $show::duration($last->milliseconds) }}@if ($last->run_id !== $table->run_id); the table was refreshed since @endif @else not looked
            at yet @endif</small></div>
    <div class="acts"><form method="post" action="{{ route('tables.profile.take', $table->name) }}">@csrf<button class="btn go">Look
        {{ $last ? 'again' : 'now' }}</button></form></div>
</div>
<div class="body">
    @error('profile')<p class="diagnosis mb-3" role="alert">{{ $message }}</p>@enderror
    @if ($columns === [])
        <p>{{ $last && $last->columns === [] ? 'The rows could not be looked at in time.' : 'The columns are looked at within a minute after a refresh.' }}</p>
    @else
    <div class="scroll" tabindex="0" role="region" aria-label="Columns of {{ $table->name }}">
    <table class="rows profile">
        <thead><tr><th>Column</th><th>Type</th><th>Without a value</th><th class="n">Different</th><th>Least</th><th>Most</th><th>Characters</th>
            <th>Spread</th></tr></thead>
        <tbody>
        @foreach ($columns as $one)
            <tr>
                <td class="m">{{ $one->column->name }}</td><td>{{ $one->column->label }}</td>
                <td>{{ $one->nullShare() }}@if ($one->nullsOverTime())<svg class="block" width="90" height="18" role="img"
                    aria-label="{{ $one->nullsOverTime()['says'] }}"><title>{{ $one->nullsOverTime()['says'] }}</title><polyline fill="none" stroke="#a96d08"
                    stroke-width="1.5" points="{{ $one->nullsOverTime()['points'] }}" /></svg>@endif
                    @if ($one->now->empty > 0)<small class="block">{{ $show::count($one->now->empty, 'row') }} with an empty text</small>@endif</td>
                <td class="n">{{ $one->distinct() }}</td>
                <td class="wrap">{{ $one->now->least === null ? '' : mb_strimwidth($one->now->least, 0, 30, '…') }}</td>
                <td class="wrap">{{ $one->now->most === null ? '' : mb_strimwidth($one->now->most, 0, 30, '…') }}</td>
                <td>{{ $one->lengths() }}</td>
                <td>@if ($one->bars() !== [])<svg width="120" height="29" role="img" aria-label="Histogram of {{ $one->column->name }}: {{ collect($one->bars()
                    )->where('h', '>', 0)->pluck('title')->join('; ') }}">@foreach ($one->bars() as $bar)<rect x="{{ $bar['x'] }}" y="{{ $bar['y'] }}"
                    width="{{ $bar['w'] }}" height="{{ $bar['h'] }}" fill="#1b6d74"><title>{{ $bar['title'] }}</title></rect>@endforeach<line x1="0" x2="120"
                    y1="28.5" y2="28.5" stroke="#cfc8b6" /></svg>@else @foreach ($one->common() as $value)<div class="common"><svg width="60" height="8"
                    aria-hidden="true"><rect width="{{ $value['w'] }}" height="8" fill="#8fb9b4" /></svg> <span>{{ $value['value'] === '' ? 'empty' :
                    mb_strimwidth($value['value'], 0, 28, '…') }}</span> <small>{{ $value['share'] }}</small></div>@endforeach @endif</td>
            </tr>
        @endforeach
        </tbody>
    </table>
    </div>
    <p class="s mt-2">All rows are looked at, {{ \App\Runs\ProfileBook::APART }} minutes apart at least. The line shows the share of rows without a value over
        the last looks, all of them at the top edge meaning none.</p>
    @endif
</div>
@endsection
