@props(['of', 'oob' => false])
<input type="hidden" id="sheet-seen" name="seen" value="{{ \App\Http\Editing\EditConflictGuard::mark($of) }}" @if ($oob) hx-swap-oob="true" @endif>
