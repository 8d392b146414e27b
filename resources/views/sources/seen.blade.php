<input type="hidden" id="sheet-seen" name="seen" value="{{ \App\Http\Sheets\EditConflictGuard::mark($sheet->file->document['source']) }}" @if ($oob)
    hx-swap-oob="true" @endif>
