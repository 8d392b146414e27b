@use('App\View\Show')
@if (isset($failed))<span class="fault">{{ $failed['what'] }} {{ $failed['advice'] }}</span>@endif
@foreach ($counts as $set => $count)<span id="count-{{ $set }}" hx-swap-oob="true" @if (is_string($count)) class="fault" title="{{ $count }}"
    @endif>{{ is_int($count) ? Show::number($count) : '—' }}</span>@endforeach
