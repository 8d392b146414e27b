<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Mask;

/**
 * Masks values with keys that are derived from one. What is masked already stays as it is, so that
 * kept pages, whose values were masked before they were written, can be flattened again.
 */
final readonly class Masks
{
    public const REDACTED = '[redacted]';

    private const MASKED = '/^(?:hash:[0-9a-f]{40}|sealed:[A-Za-z0-9+\/]{56,}={0,2}|\[redacted\])$/D';

    /** Hexadecimal digits by which a text proves that it was written here. */
    private const SEAL = 16;

    private string $hashKey;

    private string $sealKey;

    /**
     * @param  \Closure(int): string  $random  so many bytes that nobody can foresee
     */
    public function __construct(#[\SensitiveParameter] string $key, private \Closure $random)
    {
        $this->hashKey = hash_hmac('sha256', 'hash', $key, true);
        $this->sealKey = hash_hmac('sha256', 'seal', $key, true);
    }

    public function apply(ColumnMask $mask, #[\SensitiveParameter] string $text): string
    {
        return match (true) {
            $mask === ColumnMask::None || self::isMasked($text) => $text,
            $mask === ColumnMask::Redact => self::REDACTED,
            $mask === ColumnMask::Hash => 'hash:'.substr(hash_hmac('sha256', $text, $this->hashKey), 0, 40),
            default => $this->sealed($text),
        };
    }

    /**
     * What stands in the place of a value that does not fit its column: why, and nothing of the value.
     */
    public function unfit(string $reason): string
    {
        return 'unfit:'.$this->seal($reason).' '.$reason;
    }

    /**
     * @return string|null null for a text that was not written by `unfit`
     */
    public function unfitReason(string $text): ?string
    {
        $reason = str_starts_with($text, 'unfit:') ? substr($text, 6 + self::SEAL + 1) : null;

        return $reason !== null && hash_equals($this->unfit($reason), $text) ? $reason : null;
    }

    private function seal(string $reason): string
    {
        return substr(hash_hmac('sha256', "unfit $reason", $this->hashKey), 0, self::SEAL);
    }

    public static function isMasked(string $text): bool
    {
        return preg_match(self::MASKED, $text) === 1;
    }

    /**
     * A cell with what is encrypted in it opened: one value, or several that were put together.
     */
    public function opened(string $cell): string
    {
        return (string) preg_replace_callback('/sealed:[A-Za-z0-9+\/]{56,}={0,2}/', fn (array $part): string => $this->open($part[0]) ?? $part[0], $cell);
    }

    /**
     * @return string|null null when it was not sealed with this key
     */
    public function open(string $sealed): ?string
    {
        $raw = str_starts_with($sealed, 'sealed:') ? base64_decode(substr($sealed, 7), true) : false;
        if ($raw === false || strlen($raw) < SODIUM_CRYPTO_SECRETBOX_NONCEBYTES + SODIUM_CRYPTO_SECRETBOX_MACBYTES) {
            return null;
        }
        $text = sodium_crypto_secretbox_open(substr($raw, SODIUM_CRYPTO_SECRETBOX_NONCEBYTES), substr($raw, 0, SODIUM_CRYPTO_SECRETBOX_NONCEBYTES), $this->sealKey);

        return $text === false ? null : $text;
    }

    private function sealed(#[\SensitiveParameter] string $text): string
    {
        $nonce = ($this->random)(SODIUM_CRYPTO_SECRETBOX_NONCEBYTES);

        return 'sealed:'.base64_encode($nonce.sodium_crypto_secretbox($text, $nonce, $this->sealKey));
    }
}
