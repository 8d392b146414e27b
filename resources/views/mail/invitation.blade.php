{!! $by === null ? "You are invited" : "$by has invited you" !!} to Deep Spring, where APIs become tables that can be queried.

Choose a password here:
{!! $link !!}

The link works once, within {{ \App\View\Show::count($days, 'day') }}. If you did not expect it, let it be.
