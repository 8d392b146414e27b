<?php

declare(strict_types=1);

namespace DeepSpring\Identity;

/**
 * Codes to get in with when the authenticator is lost, each once. Only their hashes are kept.
 */
final readonly class RecoveryCodes
{
    public const COUNT = 10;

    private const SIGNS = 'abcdefghjkmnpqrstuvwxyz23456789';

    /**
     * @param  \Closure(int, int): int  $random  a number from, to
     * @return list<string> like `q7mx-2kcd-9rtn`
     */
    public static function make(\Closure $random): array
    {
        $codes = [];
        for ($number = 0; $number < self::COUNT; $number++) {
            $code = '';
            for ($sign = 0; $sign < 12; $sign++) {
                $code .= ($sign > 0 && $sign % 4 === 0 ? '-' : '').self::SIGNS[$random(0, strlen(self::SIGNS) - 1)];
            }
            $codes[] = $code;
        }

        return $codes;
    }

    /**
     * They have sixty bits by chance, so a plain hash tells nothing of them.
     */
    public static function hash(#[\SensitiveParameter] string $code): string
    {
        return hash('sha256', 'recovery '.preg_replace('/[^a-z0-9]+/', '', strtolower($code)));
    }

    /**
     * @param  list<string>  $hashes  of those that are left
     * @return list<string>|null those that are left afterwards; null when the code is none of them
     */
    public static function spend(#[\SensitiveParameter] string $code, array $hashes): ?array
    {
        $hash = self::hash($code);
        $left = array_values(array_filter($hashes, static fn (string $one): bool => ! hash_equals($one, $hash)));

        return count($left) === count($hashes) ? null : $left;
    }
}
