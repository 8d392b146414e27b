@php($step = $need->step(auth()->user()->role))
<p class="mb-3"><span class="tag {{ $need->is_failure ? 'i' : 'o' }}">{{ $need->kind->label() }}</span>
    <strong>{{ $need->title }}</strong><br><small>{{ $need->sentenceFor(auth()->user()->role) }}</small><br>@if ($step)<a href="{{ url($step[0]) }}"
    aria-label="{{ $step[1] }}: {{ $need->title }}">{{ $step[1] }}</a> · @endif<a href="{{ route('notes.show', $need) }}"
    aria-label="Note on {{ $need->title }}: {{ $need->kind->title() }}">Note</a></p>
