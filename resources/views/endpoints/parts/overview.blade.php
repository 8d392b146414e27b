{{-- What was set up from the first answer, and what is left to do, before anything is kept. --}}
@php($made = $sheet->setup()->all())
@php($asked = $sheet->setup()->firstQuestions())
@if ($sheet->kept()->isEmpty() && $sheet->run === null && ($made !== [] || $asked !== []))
    <div class="overview mx-6 mt-3" role="status">
        @if ($made !== [])<p><strong>Set up from the first answer:</strong> {{ collect($made)->map(fn ($one) =>
            \App\View\Show::SUGGESTED[$one->place])->unique()->join(', ', ' and ') }}. Each is marked where it stands, with its reason.</p>@endif
        @foreach ($asked as $stratum => $question)<p><strong>{{ ucfirst($stratum) }} needs you:</strong> {{ $question }}</p>@endforeach
        @if (isset($sheet->endpoint['flatten']) && ! $sheet->definition->does()->writes())<p class="mt-1"><button type="button" class="btn go small"
            id="keep-now" data-shows="happened-keep" hx-post="{{ route('endpoints.keep', [$source, $sheet->row]) }}" hx-include="#sheet-form"
            hx-swap="none">Keep as table <span class="m">{{ $sheet->endpoint['flatten']['table'] }}</span></button></p>@endif
    </div>
@endif
