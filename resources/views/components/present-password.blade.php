<x-field name="current" id="current-second" label="Present password" type="password" autocomplete="current-password" required />
