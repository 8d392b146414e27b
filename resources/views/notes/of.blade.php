@foreach ($notes as $one)
    <p class="note mb-2 text-sm" role="note"><span class="tag {{ $one->is_failure ? 'i' : 'o' }}">{{ $one->kind->label() }}</span>
        {{ $one->sentenceFor(auth()->user()->role) }} <a href="{{ route('notes.show', $one) }}">Open the note</a></p>
@endforeach
