<p class="adds m" id="adds-{{ $number }}" @if ($oob) hx-swap-oob="true" @endif @if (($sheet->adds[$number] ?? []) === []) hidden
    @endif>adds {{ implode(' and ', $sheet->adds[$number] ?? []) }}</p>
