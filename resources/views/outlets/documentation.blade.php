@extends('layouts.app')
@section('title', "How to read $feed->name")
@section('content')
<div class="head">
    <div><nav class="crumbs"><a href="{{ route('outlets.index') }}">Outlets</a> › <a href="{{ route('outlets.feed', $feed) }}">{{ $feed->name }}</a></nav>
        <h1>How to read {{ $feed->title !== '' ? $feed->title : $feed->name }} <span class="tag">version {{ $feed->version }}</span></h1>
        @if ($feed->about !== '')<p class="max-w-[640px]">{{ $feed->about }}</p>@endif</div>
</div>
<div class="body">
    <p class="m break-all">{{ $docs->address }} <button type="button" class="link" data-copy="{{ $docs->address }}"
        aria-label="Copy the address">copy</button></p>
    <p class="s max-w-[760px] mt-1">JSON comes in pages; each says the address of the next one under <code>next</code>, until that is null. With <code>.csv</code>,
        <code>.xlsx</code>, <code>.ndjson</code> or <code>.tsv</code> at its end the address gives all rows as a file. The <a
        href="{{ $docs->address }}/openapi.json">OpenAPI document</a> says the same for programs.</p>
    <h2 class="mt-5 mb-1">Try it</h2>
    <form id="try-feed" class="max-w-[900px]" data-address="{{ $docs->address }}">
        <div class="flex flex-wrap items-end gap-3">
            <div class="field !mb-0 max-w-full"><label for="try-filter">filter</label> <input class="f m !w-80 max-w-full" id="try-filter"
                name="filter" value="{{ $docs->example() }}" spellcheck="false"></div>
            <div class="field !mb-0 max-w-full"><label for="try-order">order</label> <input class="f m !w-40" id="try-order" name="order"
                spellcheck="false"></div>
            <div class="field !mb-0 max-w-full"><label for="try-fields">fields</label> <input class="f m !w-56 max-w-full" id="try-fields"
                name="fields" spellcheck="false"></div>
            <div class="field !mb-0 max-w-full"><label for="try-search">search</label> <input class="f !w-40" id="try-search" name="search"></div>
            <div class="field !mb-0 max-w-full"><label for="try-top">top</label> <input class="f !w-16" id="try-top" name="top" value="5"
                inputmode="numeric"></div>
            @foreach (array_keys($docs->asked) as $name)<div class="field !mb-0 max-w-full"><label for="try-{{ $name }}">{{ $name }}</label> <input class="f m !w-40"
                id="try-{{ $name }}" name="{{ $name }}" spellcheck="false"></div>@endforeach
            <div class="field !mb-0 max-w-full"><label for="try-key">key</label> <input class="f m !w-56 max-w-full"
                id="try-key" data-key autocomplete="off" placeholder="none: as yourself" spellcheck="false"></div>
            <button class="btn go" data-go>Ask</button>
        </div>
        <div class="mt-2" aria-live="polite" id="tried"></div>
    </form>
    <h2 class="mt-5 mb-1">Columns</h2>
    <div class="scroll" tabindex="0" role="region"
        aria-label="Columns"><table class="rows max-w-[900px]"><thead><tr><th>name</th><th>type</th><th>key</th><th>what it is</th></tr></thead><tbody>
    @foreach ($docs->shape->columns as $column)<tr><td class="m">{{ $column->name }}</td><td>{{ \App\Http\Outlets\FeedDocumentation::type($column) }}</td>
        <td>{{ $column->isKey ? 'yes' : '' }}</td><td class="wrap">{{ implode(' · ', array_filter([$column->title, $column->unit, $column->about])) }}</td></tr>@endforeach
    </tbody></table></div>
    <h2 class="mt-5 mb-1">What can be asked</h2>
    <dl class="pairs text-sm max-w-[900px]">@foreach (\App\Http\Outlets\FeedDocumentation::PARAMETERS as $name => $what)<dt class="m">{{ $name }}</dt><dd>{{ ucfirst($what) }}.</dd>@endforeach
        @foreach ($docs->asked as $name => $what)<dt class="m">{{ $name }}</dt><dd>Asked by the query: {{ $what }}.</dd>@endforeach</dl>
    <p class="s max-w-[760px] mt-2">A request that is not answered says why, as problem details (RFC 9457). 429 says under Retry-After when there is room again. An answer carries
        ETag and Last-Modified: sent back as If-None-Match or If-Modified-Since, what did not change comes as 304, without rows.</p>
    <h2 class="mt-5 mb-1">Over OData</h2>
    @foreach (['odata' => 'OData 4.01 or 4.0', 'odata2' => 'OData 2.0'] as $service => $version)
    @php($address = route("feeds.$service", ['version' => $feed->version]))
    <p class="text-sm"><span class="s inline-block w-36">{{ $version }}</span> <span class="m break-all">{{ $address }}</span> <button type="button"
        class="link" data-copy="{{ $address }}" aria-label="Copy the address for {{ $version }}">copy</button></p>
    @endforeach
    <p class="s max-w-[760px] mt-1">With basic authentication and the key as the password. This feed is the entity set
        <code>{{ \App\Outlets\OData\FeedEntity::nameOf($feed->name) }}</code>; $select, $filter, $orderby, $top, $skip, $count, $search, $expand and $apply are
        answered, and several requests in one by $batch.@if ($docs->ways !== []) From its rows lead ways to {{ implode(', ', $docs->ways) }}, for readers who may
        read these, too.@endif</p>
    <h2 class="mt-5 mb-1">From a program</h2>
    @foreach ($docs->programs() as $language => $text)<details class="mt-1" @if ($loop->first) open @endif><summary>{{ $language }}</summary>
        <pre class="ev" tabindex="0" aria-label="In {{ $language }}">{{ $text }}</pre><button type="button" class="link" data-copy="{{ $text }}"
        aria-label="Copy the program in {{ $language }}">copy</button></details>@endforeach
    <details class="mt-1"><summary>From a spreadsheet</summary><p class="s max-w-[760px]">Where it asks for data from the web, give <span class="m break-all">{{ $docs->address }}.csv</span>, choose basic
        authentication, any user name, and the key as the password.</p></details>
</div>
@endsection
