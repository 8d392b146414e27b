Somebody asked for a new password for {!! $name !!} at Deep Spring.

Choose one here:
{!! $link !!}

The link works once, within {{ $hours }} hour. If it was not you, nothing has changed; the old password goes on working.
