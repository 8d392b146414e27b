<?php

declare(strict_types=1);

namespace DeepSpring\Identity;

/**
 * What a password has to be: long, and not one that everybody tries first (NIST SP 800-63B §5.1.1.2).
 * There is no rule about digits and signs, which make passwords worse.
 */
final readonly class PasswordRules
{
    public const LEAST = 12;

    public const MOST = 200;

    /**
     * @param  array<string, mixed>  $common  the commonest passwords as keys, in small letters
     * @param  list<string>  $known  words that an attacker knows of this person, like the name
     */
    public function __construct(private array $common, private array $known = [])
    {
    }

    /**
     * Why a password is not taken, in a sentence; null when it is.
     */
    public function refusal(#[\SensitiveParameter] string $password): ?string
    {
        $length = mb_strlen($password);
        $small = mb_strtolower($password);
        if ($length < self::LEAST) {
            return 'A password has at least '.self::LEAST." characters; this has $length.";
        }
        if ($length > self::MOST) {
            return 'A password has at most '.self::MOST.' characters.';
        }
        // Nobody's password gets better by being written twice or having a year behind it.
        $bare = rtrim($small, '0123456789!?.-_ ');
        $yearless = (string) preg_replace('/(?:19|20)\d\d[!?.\-_ ]*$|[!?.\-_ ]+$/', '', $small);
        foreach ([$small, $bare, $yearless, self::unit($small), self::unit($bare), self::unit($yearless)] as $form) {
            if (isset($this->common[$form])) {
                return 'This is among the passwords that are tried first. Take another, for example four words that have nothing to do with each other.';
            }
        }
        $left = $small;
        foreach ($this->known as $word) {
            $left = mb_strlen($word) >= 3 ? str_replace(mb_strtolower($word), '', $left) : $left;
        }
        if ($left !== $small && mb_strlen($left) < self::LEAST - 4) {
            return 'This is hardly more than your own name or email.';
        }
        if (count(array_unique(mb_str_split($small))) < 5) {
            return 'This has hardly any different characters.';
        }

        return null;
    }

    /**
     * How hard it is to guess, in words.
     */
    public function strength(#[\SensitiveParameter] string $password): string
    {
        if ($password === '') {
            return '';
        }
        $refusal = $this->refusal($password);
        if ($refusal !== null) {
            return $refusal;
        }
        $bits = $this->bits($password);

        return match (true) {
            $bits < 55 => 'Taken, though somebody with time could guess it: longer is better.',
            $bits < 75 => 'Good.',
            default => 'Very good.',
        };
    }

    /**
     * A rough number of bits: by the signs in use, less for those that repeat or follow one another.
     */
    private function bits(#[\SensitiveParameter] string $password): float
    {
        $pool = (preg_match('/[a-z]/', $password) === 1 ? 26 : 0) + (preg_match('/[A-Z]/', $password) === 1 ? 26 : 0)
            + (preg_match('/\d/', $password) === 1 ? 10 : 0) + (preg_match('/[^A-Za-z0-9]/', $password) === 1 ? 33 : 0);
        $signs = mb_str_split(mb_strtolower($password));
        $worth = 0.0;
        foreach ($signs as $at => $sign) {
            $before = $signs[$at - 1] ?? null;
            $isNext = $before !== null && abs(mb_ord($sign) - mb_ord($before)) <= 1;
            $worth += $isNext ? 0.25 : 1.0;
        }

        // Words are likelier than their letters.
        return $worth * log(max(2, $pool), 2) * (preg_match('/^[a-z]+$/i', $password) === 1 ? 0.6 : 0.8);
    }

    /**
     * The text that it is a repetition of.
     */
    private static function unit(string $text): string
    {
        return preg_match('/^(.{1,100}?)\1+$/uD', $text, $part) === 1 ? $part[1] : $text;
    }
}
