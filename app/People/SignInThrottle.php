<?php

declare(strict_types=1);

namespace App\People;

use App\Models\User;
use Illuminate\Cache\RateLimiting\Limit;
use Illuminate\Http\Request;
use Illuminate\Support\Facades\RateLimiter;

/**
 * How often somebody may try to sign in: by person from one address, by person from anywhere, and by
 * address.
 */
final readonly class SignInThrottle
{
    /** In a minute, for a person from one network address. */
    public const HERE = 5;

    /** In a quarter of an hour, for a person from wherever. */
    public const ANYWHERE = 30;

    /** In a minute, from one network address for whomever. */
    public const ADDRESS = 30;

    /** Codes of a second factor in ten minutes. */
    public const CODES = 10;

    public function register(): void
    {
        RateLimiter::for('sign-in', fn (Request $request): array => array_map(self::righted(...), [
            Limit::perMinute(self::HERE)->by($this->keyAtAddress($request, $this->email($request))),
            Limit::perMinutes(15, self::ANYWHERE)->by($this->keyOfPerson($this->email($request))),
            Limit::perMinute(self::ADDRESS)->by('address '.$request->ip()),
        ]));
        RateLimiter::for('second-factor', static function (Request $request): array {
            $halfway = $request->session()->get('halfway');

            return [Limit::perMinutes(10, self::CODES)->by('second '.(is_array($halfway) ? $halfway['person'] ?? 0 : 0)), Limit::perMinute(self::ADDRESS)->by('second address '.$request->ip())];
        });
        RateLimiter::for('links', static fn (Request $request): array => [Limit::perMinute(20)->by('links '.$request->ip())]);
    }

    /**
     * After a sign-in: only attempts that fail count against a person.
     */
    public function clear(Request $request, string $email): void
    {
        foreach ([$this->keyAtAddress($request, $email), $this->keyOfPerson($email)] as $key) {
            RateLimiter::clear(md5("sign-in$key"));
        }
    }

    public function clearSecond(User $person): void
    {
        RateLimiter::clear(md5("second-factorsecond $person->id"));
    }

    /**
     * A count that ends later than any can was begun by a clock that was ahead, and begins anew.
     */
    private static function righted(Limit $limit): Limit
    {
        $name = md5('sign-in'.$limit->key);
        if (RateLimiter::availableIn($name) > $limit->decaySeconds + 5) {
            RateLimiter::clear($name);
        }

        return $limit;
    }

    private function email(Request $request): string
    {
        $email = $request->input('email');

        return is_string($email) ? mb_strtolower(mb_substr($email, 0, 200)) : '';
    }

    private function keyAtAddress(Request $request, string $email): string
    {
        return "name $email {$request->ip()}";
    }

    private function keyOfPerson(string $email): string
    {
        return "anywhere $email";
    }
}
