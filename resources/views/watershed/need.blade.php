<p class="mb-3"><span class="tag {{ $need->is_failure ? 'i' : 'o' }}">{{ $need->kind->label() }}</span>
    <strong>{{ $need->title }}</strong><br><small>{{ $need->sentenceFor(auth()->user()->role) }}</small><br><a
    href="{{ route('notes.show', $need) }}" aria-label="Open the note on {{ $need->title }}: {{ $need->kind->title() }}">Open the note</a></p>
