<?php

declare(strict_types=1);

namespace DeepSpring\Access;

/**
 * The origin of an address (RFC 6454 §4): scheme, host and port, each written in one way.
 */
final readonly class Origin
{
    private const PORTS = ['http' => 80, 'https' => 443];

    /**
     * @return string|null like `https://api.saltmarsh.example:443`; null for what is no http or https address
     */
    public static function of(string $address): ?string
    {
        if (preg_match('~^(https?)://(?:[^/?#@]*@)?(\[[0-9a-f:.]+\]|[^/?#@:\[\]\\\\\s]+)(?::(\d{0,5}))?(?:[/?#\\\\]|$)~iD', trim($address), $part) !== 1) {
            return null;
        }
        $scheme = strtolower($part[1]);
        $host = strtolower(rtrim(rawurldecode($part[2]), '.'));
        if (preg_match('/[^\x21-\x7e]/', $host) === 1) {
            $ascii = idn_to_ascii($host, IDNA_DEFAULT, INTL_IDNA_VARIANT_UTS46);
            $host = $ascii === false ? $host : $ascii;
        }
        $port = ($part[3] ?? '') === '' ? self::PORTS[$scheme] : (int) $part[3];

        return "$scheme://$host:$port";
    }

    /**
     * As a person writes it: without the port that goes without saying.
     */
    public static function shown(string $origin): string
    {
        return (string) preg_replace('~^(http://.*):80$|^(https://.*):443$~', '$1$2', $origin);
    }
}
