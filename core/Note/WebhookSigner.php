<?php

declare(strict_types=1);

namespace DeepSpring\Note;

/**
 * Signs a message with HMAC-SHA256, so that who receives it knows that it comes from here, whole and not
 * long ago (Standard Webhooks 1.0.0, "Signature scheme": symmetric, version v1).
 */
final readonly class WebhookSigner
{
    private const PREFIX = 'whsec_';

    /** Bytes that a key may have. */
    private const SHORTEST = 24;

    private const LONGEST = 64;

    private string $key;

    /**
     * @param  string  $secret  `whsec_` and the key in base64
     *
     * @throws UnusableKey
     */
    public function __construct(#[\SensitiveParameter] string $secret)
    {
        $key = str_starts_with($secret, self::PREFIX) ? base64_decode(substr($secret, strlen(self::PREFIX)), true) : false;
        if ($key === false || strlen($key) < self::SHORTEST || strlen($key) > self::LONGEST) {
            throw new UnusableKey('A secret to sign with is "whsec_" and '.self::SHORTEST.' to '.self::LONGEST.' bytes in base64.');
        }
        $this->key = $key;
    }

    /**
     * The secret as it is handed to who receives.
     *
     * @param  string  $key  random bytes
     */
    public static function secret(#[\SensitiveParameter] string $key): string
    {
        return self::PREFIX.base64_encode($key);
    }

    /**
     * @param  string  $id  of the message, the same however often it is sent; without a point
     * @param  int  $at  seconds since 1970, of this attempt
     * @return array{'webhook-id': string, 'webhook-timestamp': string, 'webhook-signature': string} headers to send with the body
     */
    public function headers(string $id, int $at, string $body): array
    {
        return [
            'webhook-id' => $id, 'webhook-timestamp' => (string) $at,
            'webhook-signature' => 'v1,'.base64_encode(hash_hmac('sha256', "$id.$at.$body", $this->key, true)),
        ];
    }
}
