<x-sheet.seen :of="$sheet->endpoint" oob />
<div id="elsewhere" hx-swap-oob="true"></div>
<span id="endpoint-name" hx-swap-oob="true">{{ $sheet->endpoint['name'] }}</span>
<div id="overview" hx-swap-oob="true">@include('endpoints.parts.overview')</div>
@unless ($keepsQuestion ?? false)<div id="confirm" hx-swap-oob="true"></div>@endunless
<x-sheet.state id="draft-state" :faults="$sheet->faults" :source="$source" oob />
<div id="happened-head" hx-swap-oob="true">@include('endpoints.parts.head')</div>
@include('endpoints.parts.input-faults', ['ask' => $sheet->ask, 'refused' => $sheet->refusedInputs()])
@foreach (['ask' => 1, 'answer' => 2, 'onward' => 3, 'flatten' => 4, 'keep' => 5] as $stratum => $number)
    <x-sheet.node :state="$sheet->node($stratum)" :stratum="$stratum" :number="$number" oob />
    <div @if ($stratum !== 'ask') class="cell {{ $stratum === 'keep' ? 'last' : '' }}" @endif id="happened-{{ $stratum }}"
        hx-swap-oob="true">@include("endpoints.parts.$stratum")</div>
    @if ($stratum !== 'ask')<div id="suggested-{{ $stratum }}" hx-swap-oob="true"><x-sheet.suggested :sheet="$sheet" :stratum="$stratum"
        :to="route('endpoints.update', [$source, $sheet->row])" /></div>@endif
    <div id="faults-{{ $stratum }}" role="status" hx-swap-oob="true">@foreach ($sheet->faultsAt($stratum) as $sentence)<p
        class="fault mt-1">{{ ucfirst(trim($sentence)) }}</p>@endforeach</div>
@endforeach
<x-sheet.step :to="route('endpoints.update', [$source, $sheet->row])" do="propose" class="btn small" id="propose" hx-swap-oob="true"
    :disabled="$sheet->records === []">{{ isset($sheet->endpoint['flatten']) ? 'Propose again' : 'Propose columns' }}</x-sheet.step>
