<x-field name="current" id="current-second" label="Current password" type="password" autocomplete="current-password" required />
