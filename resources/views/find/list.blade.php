@forelse ($found as $number => $one)
    <a role="option" id="found-{{ $number }}" href="{{ $one->url }}" tabindex="-1" aria-selected="false"><span>{{ $one->name }}</span>
        <small>{{ $one->in === '' ? $one->kind : "$one->kind of $one->in" }}</small></a>
@empty
    <p class="s">Nothing in {{ $environment->name }} is named like “{{ $search }}”.</p>
@endforelse
