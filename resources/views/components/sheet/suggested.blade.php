@props(['sheet', 'stratum', 'to'])
{{-- What nobody set: why it is suggested, and what else it may be; and what nothing suggested. --}}
@foreach ($sheet->setup()->questions($stratum) as $question)
    <p class="note mt-1">{{ $question }}</p>
@endforeach
@foreach ($sheet->setup()->made($stratum) as $one)
    <p class="suggested" data-place="{{ $one->place }}"><span class="tag">suggested</span> <strong>{{ \App\View\Show::SUGGESTED[$one->place] }}</strong>:
        {{ $one->reason }}{{ str_ends_with($one->reason, '.') ? '' : '.' }}
        @foreach ($one->others as $number => $other)<x-sheet.step :to="$to" do="use-other" :with="['place' => $one->place, 'at' => (string) $number]"
            class="link" :id="'other-'.$one->place.'-'.$number">{{ ucfirst($other['label']) }} instead</x-sheet.step>{{ $loop->last ? '' :
            ' · ' }}@endforeach</p>
@endforeach
@if ($stratum === 'flatten')
    @foreach ($sheet->setup()->takenNames() as $table => $taken)
        <p class="note mt-1">The name <code>{{ $table }}</code> is taken, by {{ $taken['holder'] }}.
            <x-sheet.step :to="$to" do="free-name" :with="['table' => $table]" class="link" :id="'free-'.$taken['free']">Name it
            {{ $taken['free'] }}</x-sheet.step></p>
    @endforeach
@endif
