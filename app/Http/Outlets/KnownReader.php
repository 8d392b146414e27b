<?php

declare(strict_types=1);

namespace App\Http\Outlets;

use App\Models\Principal;
use App\Models\User;
use App\Outlets\KeyRing;
use App\People\Sessions;
use App\People\SignIn;
use Closure;
use Illuminate\Contracts\Container\Container;
use Illuminate\Cookie\Middleware\EncryptCookies;
use Illuminate\Http\Request;
use Illuminate\Pipeline\Pipeline;
use Illuminate\Session\Middleware\StartSession;
use Symfony\Component\HttpFoundation\Response;

/**
 * Who asks for a feed: whoever has a key, as `Authorization: Bearer`, as `X-Api-Key`, or as the password of basic
 * authentication (RFC 6750, RFC 7617), which spreadsheets can do; and whoever signed in with a browser. A request
 * without a key begins no session.
 */
final readonly class KnownReader
{
    public function __construct(private KeyRing $keys, private Sessions $sessions, private SignIn $signIn, private Container $app)
    {
    }

    /**
     * @param  Closure(Request): Response  $next
     */
    public function handle(Request $request, Closure $next): Response
    {
        $key = self::key($request);
        if ($key !== null) {
            $consumer = $this->keys->find($key);
            $this->set($request, $consumer !== null && $consumer->mayComeFrom((string) $request->ip()) ? $consumer : null);

            return $next($request);
        }
        if (! $request->cookies->has((string) config('session.cookie'))) {
            return $next($request);
        }

        return (new Pipeline($this->app))->send($request)->through([EncryptCookies::class, StartSession::class])->then(function (Request $request) use ($next): Response {
            $person = $request->user();
            if ($person instanceof User && ! $person->isOff() && $this->sessions->current($request, $person) !== null && ! $this->signIn->mustSetUp($person)) {
                $this->set($request, $person);
            }

            return $next($request);
        });
    }

    public static function of(Request $request): ?Principal
    {
        $reader = $request->attributes->get(Principal::class);

        return $reader instanceof Principal ? $reader : null;
    }

    private function set(Request $request, ?Principal $reader): void
    {
        $request->attributes->set(Principal::class, $reader);
    }

    public static function key(Request $request): ?string
    {
        $bearer = preg_match('/^Bearer\s+(\S+)\s*$/iD', (string) $request->headers->get('authorization'), $part) === 1 ? $part[1] : null;
        $header = $request->headers->get('x-api-key');

        return $bearer ?? ($header === null || trim($header) === '' ? null : trim($header)) ?? ($request->getPassword() === '' ? null : $request->getPassword());
    }
}
