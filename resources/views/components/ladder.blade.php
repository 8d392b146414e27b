<svg width="{{ \App\View\Ladder::WIDTH }}" height="{{ $ladder->height }}" role="img" aria-label="{{ count($ladder->bars) + $ladder->hidden }} pages in time">
    @foreach ($ladder->bars as $bar)
        @if ($bar['wait'] > 0)<rect x="{{ $bar['waitX'] }}" y="{{ $bar['y'] + 2 }}" width="{{ $bar['wait'] }}" height="12" rx="2" fill="none" stroke="#a96d08" stroke-dasharray="3 2" />@endif
        <rect x="{{ $bar['x'] }}" y="{{ $bar['y'] + 2 }}" width="{{ $bar['w'] }}" height="12" rx="2" @if ($bar['failed']) fill="none" stroke="#a33b2a" stroke-dasharray="3 2" @else fill="#176b74" @endif />
        <text x="{{ $bar['textX'] }}" y="{{ $bar['y'] + 12 }}" font-size="12" fill="{{ $bar['failed'] ? '#8a2b1b' : '#12282b' }}">{{ $bar['text'] }}</text>
    @endforeach
</svg>
@if ($ladder->hidden > 0)<p class="s">{{ $ladder->hidden }} pages in the middle are not drawn.</p>@endif
