<?php

declare(strict_types=1);

namespace DeepSpring\Outbound;

/**
 * Network addresses that an address typed by a person must not lead to, after the special-purpose
 * registries of RFC 6890 and what they say is not globally reachable. An IPv6 address that carries
 * an IPv4 address is judged by that.
 */
final class AddressRules
{
    /** The first range that holds an address names it. */
    private const RANGES = [
        '169.254.169.254/32' => 'the metadata service of a cloud', '100.100.100.200/32' => 'the metadata service of a cloud', '169.254.170.2/32' => 'the metadata service of a cloud', 'fd00:ec2::254/128' => 'the metadata service of a cloud',
        '127.0.0.0/8' => 'this machine itself', '0.0.0.0/8' => 'this machine itself', '::1/128' => 'this machine itself', '::/128' => 'this machine itself',
        '10.0.0.0/8' => 'a private network', '172.16.0.0/12' => 'a private network', '192.168.0.0/16' => 'a private network', 'fc00::/7' => 'a private network', 'fec0::/10' => 'a private network',
        '169.254.0.0/16' => 'a link-local address', 'fe80::/10' => 'a link-local address',
        '100.64.0.0/10' => 'an address inside a provider\'s network (carrier-grade NAT)',
        '224.0.0.0/4' => 'a multicast address', 'ff00::/8' => 'a multicast address', '255.255.255.255/32' => 'a broadcast address',
        '192.0.0.0/24' => 'a reserved address', '192.0.2.0/24' => 'an address for documentation', '198.51.100.0/24' => 'an address for documentation', '203.0.113.0/24' => 'an address for documentation', '2001:db8::/32' => 'an address for documentation', '3fff::/20' => 'an address for documentation',
        '192.88.99.0/24' => 'a reserved address', '198.18.0.0/15' => 'a network for measurements', '240.0.0.0/4' => 'a reserved address', '100::/64' => 'a reserved address', '2001::/23' => 'a reserved address', '5f00::/16' => 'a reserved address', '64:ff9b:1::/48' => 'a private network',
    ];

    /** Prefixes of IPv6 that carry an IPv4 address, and the byte where it starts. */
    private const CARRIERS = ['::ffff:0:0/96' => 12, '::ffff:0:0:0/96' => 12, '64:ff9b::/96' => 12, '2002::/16' => 2, '::/96' => 12];

    /**
     * What kind of address it is that requests must not go to; null when they may.
     *
     * @param  string  $address  IPv4 or IPv6 as `inet_ntop` writes them, without a zone
     */
    public static function refusal(string $address): ?string
    {
        $bytes = @inet_pton($address);
        if ($bytes === false) {
            return 'no address at all';
        }
        foreach (self::RANGES as $range => $kind) {
            if (self::within($bytes, $range)) {
                return $kind;
            }
        }
        foreach (strlen($bytes) === 16 ? self::CARRIERS : [] as $range => $at) {
            if (self::within($bytes, $range)) {
                return self::refusal((string) inet_ntop(substr($bytes, $at, 4)));
            }
        }

        return null;
    }

    private static function within(string $bytes, string $range): bool
    {
        [$network, $length] = explode('/', $range);
        $network = (string) inet_pton($network);
        if (strlen($network) !== strlen($bytes)) {
            return false;
        }
        $whole = intdiv((int) $length, 8);
        $rest = (int) $length % 8;

        return strncmp($network, $bytes, $whole) === 0
            && ($rest === 0 || (ord($network[$whole]) >> (8 - $rest)) === (ord($bytes[$whole]) >> (8 - $rest)));
    }
}
