@include('sources.state', ['oob' => true])
@include('sources.publish', ['oob' => true])
@include('sources.faults', ['oob' => true])
