<?php

declare(strict_types=1);

namespace DeepSpring\Feed;

/**
 * The last row of a page, for the address of the next one: its values, which question it belongs to and of which
 * state of the feed, sealed so that nobody can make one up (HMAC, RFC 2104, with SHA-256, of which 16 bytes are kept).
 */
final readonly class SealedPlace
{
    private const SEAL = 16;

    /** Bytes of an address that a web server surely takes. */
    private const LONGEST = 6000;

    /**
     * @param  string  $question  what was asked for besides the place: filter, order, …
     * @param  string  $state  what must still be the same for the place to mean anything
     */
    public function __construct(#[\SensitiveParameter] private string $secret, private string $question, private string $state)
    {
    }

    /**
     * @param  list<string|null>  $last  values of the row
     *
     * @throws CannotGoOn where they are too long for an address
     */
    public function seal(array $last): string
    {
        $text = json_encode([self::mark($this->question), self::mark($this->state), $last], JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES);
        $token = $text === false ? '' : rtrim(strtr(base64_encode($this->sealOf($text).$text), '+/', '-_'), '=');

        return $token !== '' && strlen($token) <= self::LONGEST ? $token : throw CannotGoOn::isTooLong();
    }

    /**
     * @return list<string|null>
     *
     * @throws CannotGoOn
     */
    public function open(string $token): array
    {
        $bytes = strlen($token) > self::LONGEST || preg_match('/^[A-Za-z0-9_-]+$/D', $token) !== 1 ? false : base64_decode(strtr($token, '-_', '+/'), true);
        $text = $bytes === false ? '' : substr($bytes, self::SEAL);
        if ($bytes === false || strlen($bytes) <= self::SEAL || ! hash_equals($this->sealOf($text), substr($bytes, 0, self::SEAL))) {
            throw CannotGoOn::isNone();
        }
        [$question, $state, $last] = (array) json_decode($text, true) + [null, null, []];
        if ($state !== self::mark($this->state)) {
            throw CannotGoOn::isGone();
        }
        if ($question !== self::mark($this->question)) {
            throw CannotGoOn::isOfAnother();
        }

        return array_map(static fn (mixed $value): ?string => is_string($value) ? $value : null, array_values(is_array($last) ? $last : []));
    }

    private function sealOf(string $text): string
    {
        return substr(hash_hmac('sha256', $text, $this->secret, true), 0, self::SEAL);
    }

    private static function mark(string $text): string
    {
        return hash('xxh64', $text);
    }
}
