<?php

declare(strict_types=1);

namespace App\Console;

/**
 * Files that the person who called a command named: reached as that person, where root called and
 * the application works as its own account.
 */
final readonly class CallerFiles
{
    public static function read(string $path): ?string
    {
        $text = self::asCaller(static fn (): string|false => is_file($path) ? @file_get_contents($path) : false);

        return $text === false ? null : $text;
    }

    public static function write(string $path, string $text): bool
    {
        return self::asCaller(static fn (): bool => @file_put_contents($path, $text) === strlen($text));
    }

    /**
     * A file of the application at a place of the caller, whole or not at all.
     */
    public static function place(string $from, string $to): bool
    {
        return self::asCaller(static fn (): bool => @copy($from, "$to.part") && @rename("$to.part", $to));
    }

    /**
     * @template T
     *
     * @param  \Closure(): T  $do
     * @return T
     */
    private static function asCaller(\Closure $do): mixed
    {
        [$user, $group] = [posix_geteuid(), posix_getegid()];
        $lowered = posix_getuid() === 0 && $user !== 0;
        if ($lowered) {
            posix_seteuid(0);
            posix_setegid(0);
        }
        try {
            return $do();
        } finally {
            if ($lowered) {
                posix_setegid($group);
                posix_seteuid($user);
            }
        }
    }
}
