@foreach ($findings as $finding)
    <p @class(['mb-1', 'fault' => $finding->blocks, 's' => ! $finding->blocks]) data-finding="{{ $finding->code }}">{{ $finding->sentence }}
        @if ($finding->instead)<button type="button" class="btn small" data-fill="{{ $field }}"
        data-value="{{ $finding->instead }}">Take {{ $finding->instead }}</button>@endif</p>
@endforeach
