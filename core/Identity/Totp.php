<?php

declare(strict_types=1);

namespace DeepSpring\Identity;

/**
 * Time-based one-time passwords (RFC 6238) over HOTP (RFC 4226) with SHA-1, six digits and steps of
 * thirty seconds, which is what authenticators understand without being told.
 */
final readonly class Totp
{
    /** Bytes of a secret (RFC 4226 §4 R6 recommends 160 bits). */
    public const SECRET_BYTES = 20;

    private const STEP = 30;

    private const DIGITS = 6;

    /** Steps before and after the present one that are taken, for clocks that differ (RFC 6238 §5.2). */
    private const DRIFT = 1;

    public function __construct(#[\SensitiveParameter] private string $secret)
    {
    }

    public function at(int $time): string
    {
        return $this->code(intdiv($time, self::STEP));
    }

    /**
     * The step that a code belongs to, so that it is taken once (RFC 6238 §5.2).
     *
     * @param  int  $time  seconds since 1970
     * @param  int  $after  steps up to this one were used already
     */
    public function step(string $code, int $time, int $after): ?int
    {
        $code = (string) preg_replace('/\s+/', '', $code);
        $now = intdiv($time, self::STEP);
        $found = null;
        for ($step = $now - self::DRIFT; $step <= $now + self::DRIFT; $step++) {
            // Each is compared, so that the time tells nothing.
            if (hash_equals($this->code($step), $code) && $step > $after) {
                $found ??= $step;
            }
        }

        return $found;
    }

    /**
     * What an authenticator reads from a picture.
     */
    public function address(string $issuer, string $account): string
    {
        $label = rawurlencode($issuer).':'.rawurlencode($account);

        return "otpauth://totp/$label?".http_build_query(['secret' => Base32::encode($this->secret), 'issuer' => $issuer], '', '&', PHP_QUERY_RFC3986);
    }

    private function code(int $step): string
    {
        $hash = hash_hmac('sha1', pack('J', $step), $this->secret, true);
        $offset = ord($hash[19]) & 0x0F;
        $number = (((ord($hash[$offset]) & 0x7F) << 24) | (ord($hash[$offset + 1]) << 16) | (ord($hash[$offset + 2]) << 8) | ord($hash[$offset + 3])) % 10 ** self::DIGITS;

        return str_pad((string) $number, self::DIGITS, '0', STR_PAD_LEFT);
    }
}
