@props(['id' => 'password'])
<div class="field">
    <label for="{{ $id }}">New password</label>
    <input class="f" id="{{ $id }}" name="password" type="password" autocomplete="new-password" minlength="12" maxlength="200" required
        aria-describedby="{{ $id }}-strength" hx-post="{{ route('strength') }}" hx-trigger="input changed delay:250ms"
        hx-target="#{{ $id }}-strength" hx-params="password,name,email" hx-include="closest form" data-quiet>
    <p class="s mt-1" id="{{ $id }}-strength" aria-live="polite">At least 12 characters. Several words that have nothing to do with each other are good.</p>
</div>
<div class="field">
    <label for="{{ $id }}-again">Repeat the password</label>
    <input class="f" id="{{ $id }}-again" name="again" type="password" autocomplete="new-password" required>
</div>
