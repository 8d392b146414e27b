<?php

declare(strict_types=1);

namespace App\Secrets;

/**
 * Names of locks of the database. Whoever may run a statement could take a lock whose name can be
 * guessed, so each carries a hash with the key of the application.
 */
final readonly class LockName
{
    /**
     * @return string at most 64 characters, which is what MariaDB takes
     */
    public static function of(string ...$parts): string
    {
        return 'spring '.substr(hash_hmac('sha256', implode("\0", $parts), (string) config('app.key')), 0, 40);
    }
}
