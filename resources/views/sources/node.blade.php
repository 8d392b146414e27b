<span class="node {{ $sheet->node($stratum) }}" id="node-{{ $stratum }}" @if ($oob) hx-swap-oob="true" @endif>{{ $number }}</span>
