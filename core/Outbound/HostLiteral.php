<?php

declare(strict_types=1);

namespace DeepSpring\Outbound;

/**
 * A host of a URI that is an address and not a name: in brackets (RFC 3986 §3.2.2), dotted, or in
 * one of the old ways of writing IPv4 that resolvers still take (`2130706433`, `0x7f.1`, `0177.0.0.1`).
 */
final readonly class HostLiteral
{
    private function __construct(
        /** As `inet_ntop` writes it. */
        public string $address,
        /** Whether it is written the usual way. */
        public bool $usual,
    ) {
    }

    /**
     * @return self|null null for a name
     *
     * @throws UnusableHost for what looks like an address and is none, or names a zone (RFC 6874)
     */
    public static function of(string $host): ?self
    {
        if (str_starts_with($host, '[') || str_contains($host, ':')) {
            return self::six(trim($host, '[]'));
        }
        $parts = explode('.', rtrim($host, '.'));
        if (preg_match('/^(?:0x[0-9a-f]*|\d+)$/iD', (string) end($parts)) !== 1) {
            return null;
        }
        $numbers = array_map(self::number(...), $parts);
        if (count($parts) > 4 || in_array(null, $numbers, true)) {
            throw UnusableHost::noAddress($host);
        }
        $last = (int) array_pop($numbers);
        $value = 0;
        foreach ($numbers as $at => $number) {
            if ($number > 255) {
                throw UnusableHost::noAddress($host);
            }
            $value |= (int) $number << (24 - 8 * $at);
        }
        if ($last >= 2 ** (32 - 8 * count($numbers))) {
            throw UnusableHost::noAddress($host);
        }
        $address = (string) inet_ntop(pack('N', $value | $last));

        return new self($address, $address === $host);
    }

    private static function six(string $host): self
    {
        if (str_contains($host, '%')) {
            throw UnusableHost::withZone($host);
        }
        $bytes = @inet_pton($host);

        return $bytes === false || strlen($bytes) !== 16 ? throw UnusableHost::noAddress($host) : new self((string) inet_ntop($bytes), true);
    }

    private static function number(string $part): ?int
    {
        return match (true) {
            preg_match('/^0x[0-9a-f]{0,8}$/iD', $part) === 1 => (int) hexdec($part),
            preg_match('/^0[0-7]{0,11}$/D', $part) === 1 => (int) octdec($part),
            preg_match('/^[1-9]\d{0,9}$/D', $part) === 1 => (int) $part,
            default => null,
        };
    }
}
