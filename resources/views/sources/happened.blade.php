<x-sheet.seen :of="$sheet->file->document['source']" oob />
<div id="elsewhere" hx-swap-oob="true"></div>
<x-sheet.state id="source-state" :faults="$sheet->faults" :source="$source" oob />
@include('sources.publish', ['oob' => true])
@include('sources.faults', ['oob' => true])
@if ($sheet->try === null) @include('sources.adds', ['oob' => true]) @endif
@include('sources.changed', ['oob' => true])
@foreach (['address' => 1, 'access' => 2, 'request' => 3, 'pace' => 4] as $stratum => $number)
    <x-sheet.node :state="$sheet->node($stratum)" :stratum="$stratum" :number="$number" oob />
@endforeach
@foreach (array_keys($sheet->definition['access'] ?? []) as $number)
    @include('sources.scheme-adds', ['oob' => true])
@endforeach
@include('sources.pace', ['oob' => true])
