<input type="hidden" id="sheet-seen" name="seen" value="{{ \App\Http\Sheets\EditConflictGuard::mark(isset($sheet) ? $sheet->endpoint :
    $ask->definition->endpoint) }}" @if ($oob) hx-swap-oob="true" @endif>
