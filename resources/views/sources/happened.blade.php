@include('sources.seen', ['oob' => true])
<div id="elsewhere" hx-swap-oob="true"></div>
@include('sources.state', ['oob' => true])
@include('sources.publish', ['oob' => true])
@include('sources.faults', ['oob' => true])
@if ($sheet->try === null) @include('sources.adds', ['oob' => true]) @endif
@include('sources.changed', ['oob' => true])
@foreach (['address' => 1, 'access' => 2, 'request' => 3, 'pace' => 4] as $stratum => $number)
    @include('sources.node', ['oob' => true])
@endforeach
@foreach (array_keys($sheet->definition['access'] ?? []) as $number)
    @include('sources.scheme-adds', ['oob' => true])
@endforeach
@include('sources.pace', ['oob' => true])
