@extends('layouts.app')
@section('title', 'Shape '.$sheet->definition->name)
@section('shaping', 'yes')
@section('content')
<div class="head">
    <div>
        <nav class="crumbs"><a href="{{ route('sources.index') }}">Sources</a> › <a
            href="{{ route('sources.show', $source) }}">{{ $source->name }}</a> › <a
            href="{{ route('endpoints.show', [$source, $sheet->row]) }}">{{ $sheet->definition->name }}</a> › Flatten</nav>
        <h1>What the records become</h1>
    </div>
    <div class="acts">
        <a class="btn" href="{{ route('endpoints.show', [$source, $sheet->row]) }}">Back to the sheet</a>
        <a class="btn go" href="{{ route('endpoints.show', [$source, $sheet->row]) }}#keep">Publish and keep there</a>
    </div>
</div>
<div id="shape-fault" role="alert"></div>
@include('shape.bench')
<section class="body" aria-label="Functions">
<details id="functions"><summary class="s">All functions for computed columns and conditions</summary>
    <p class="s mt-1">A column is named as it is, or between backticks when it has blanks. Texts stand in quotes.
        + - * / % calculate exactly; == != &lt; &lt;= &gt; &gt;= compare; and, or, not join; in looks in a list like ['open', 'packed'].</p>
    <div class="functions">
    @foreach ($functions as $group => $all)
        <div><h3>{{ $group }}</h3>
        <dl>@foreach ($all as $function)<dt><code>{{ $function->signature }}</code></dt><dd>{{ $function->about }} <span
            class="s"><code>{{ $function->example[0] }}</code> gives <code>{{ $function->example[1] === '' ? 'nothing' :
            $function->example[1] }}</code></span></dd>@endforeach</dl></div>
    @endforeach
    </div>
</details>
</section>
@endsection
