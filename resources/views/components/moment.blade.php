@props(['at', 'seconds' => true])
{{-- In the zone of whoever looks, which is named; in UTC when it is pointed at. --}}
<time datetime="{{ $at->copy()->utc()->format('Y-m-d\TH:i:s\Z') }}"
    title="{{ $at->copy()->utc()->format('Y-m-d H:i:s') }} UTC">{{ \App\View\Show::at($at, $seconds) }} {{ \App\View\Show::zone($at) }}</time>
