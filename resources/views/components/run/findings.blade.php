@props(['run'])
@foreach ($run->findings ?? [] as $finding)
    <p class="{{ $finding['doubt'] ? 'note' : 's' }} mt-1" data-finding="{{ $finding['code'] }}">{{ $finding['sentence'] }}</p>
@endforeach
