@php($stages = $sheet->stages())
<ol class="stages" aria-label="Stages of the test">
    @foreach ($stages->all as $stage)
        <li class="{{ $stage['state'] }}"><span class="mark" aria-hidden="true">{{ ['ok' => '✓', 'bad' => '✕', 'no' =>
            '·'][$stage['state']] }}</span><span>{{ $stage['name'] }}<span class="visually-hidden">: {{ ['ok' => 'went through', 'bad' => 'failed',
            'no' => 'not reached'][$stage['state']] }}</span></span>@if ($stage['ms'] !==
            null)<small>{{ \App\View\Show::duration($stage['ms']) }}</small>@endif @if ($stage['note'] !== '')<small
            class="note-of">{{ $stage['note'] }}</small>@endif</li>
    @endforeach
</ol>
