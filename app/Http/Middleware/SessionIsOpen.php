<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use App\Models\User;
use App\People\Sessions;
use App\People\SignIn;
use Closure;
use Illuminate\Http\Request;
use Symfony\Component\HttpFoundation\Response;

/**
 * Lets on those whose session was not ended meanwhile and who are not switched off; those who have to
 * set up a second factor do that first.
 */
final readonly class SessionIsOpen
{
    /** Where somebody may be who has a second factor to set up. */
    private const BEFORE_SECOND_FACTOR = ['account', 'account.*', 'sign-out'];

    public function __construct(private Sessions $sessions, private SignIn $signIn)
    {
    }

    /**
     * @param  Closure(Request): Response  $next
     */
    public function handle(Request $request, Closure $next): Response
    {
        $person = $request->user();
        if (! $person instanceof User || $person->isOff() || $this->sessions->current($request, $person) === null) {
            $isOff = $person instanceof User && $person->isOff();
            $this->signIn->forget($request);
            if ($request->hasHeader('HX-Request') || $request->expectsJson()) {
                return response('', 401);
            }

            return redirect()->route('sign-in')->with('trouble', $isOff ? 'You cannot sign in any more. Ask an administrator.' : 'Your session has ended. Sign in again.');
        }
        if ($this->signIn->mustSetUp($person) && ! $request->routeIs(...self::BEFORE_SECOND_FACTOR)) {
            return $request->hasHeader('HX-Request') ? response('', 403) : redirect()->route('account')->with('trouble', 'Your role signs in with a second factor. Set one up first.');
        }

        return $next($request);
    }
}
