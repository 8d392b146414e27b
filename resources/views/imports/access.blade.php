{{-- Which way of authentication is taken, of those that the description offers instead of each other. --}}
@php($words = fn (array $entries): string => collect($entries)->map(fn ($one) => \App\Http\Sources\SchemeFields::title($one['scheme']).(isset($one['in'],
    $one['name']) ? " in {$one['in']} {$one['name']}" : ''))->join(' and ') ?: 'none')
@if ($page->keepsAccess() || $described->alternatives === [])
    <p class="mb-1">Authentication: @forelse ($described->access as $one)<span class="tag">{{ $words([$one]) }}</span> @empty none @endforelse
        @if ($page->keepsAccess())<small>that of the source stays as it is, and this is not taken</small>@endif</p>
@else
    <fieldset class="mb-2"><legend>Authentication, one of</legend>
    @foreach ($described->alternatives as $name => $entries)
        <label class="block"><input type="radio" name="access" id="access-{{ $loop->index }}" value="{{ $name }}" @checked($loop->first)>
            {{ $words($entries) }} <small>{{ $name }}</small></label>
    @endforeach
    </fieldset>
@endif
