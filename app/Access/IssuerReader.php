<?php

declare(strict_types=1);

namespace App\Access;

use App\Transport\Limits;
use App\Transport\OutboundGuard;
use App\Transport\OutboundRefused;
use App\Transport\Transport;
use App\Transport\UnknownName;
use DeepSpring\Access\OAuth\Discovery;
use DeepSpring\Access\SecretMask;
use GuzzleHttp\Psr7\Request;
use GuzzleHttp\Psr7\Uri;

/**
 * Asks an issuer for its addresses.
 */
final readonly class IssuerReader
{
    public function __construct(private Transport $transport, private OutboundGuard $guard)
    {
    }

    /**
     * @return array<string, string> by their names in the source file; none when nothing there describes this issuer
     */
    public function read(string $issuer): array
    {
        if (preg_match('~^https?://[^/?#@\s]+(/[^?#\s]*)?$~', $issuer) !== 1) {
            return [];
        }
        foreach (Discovery::places($issuer) as $place) {
            $sent = $this->transport->send(new Request('GET', $place, ['accept' => 'application/json']), new Limits(10, 1, 1024 * 1024), new SecretMask([]));
            $found = $sent->status === 200 ? Discovery::read($sent->body, $issuer) : null;
            $found = $found === null ? null : array_filter($found, fn (string $value, string $name): bool => ! str_ends_with($name, '_url') || $this->isReachable($value), ARRAY_FILTER_USE_BOTH);
            if ($found !== null && $found !== []) {
                return $found;
            }
        }

        return [];
    }

    /**
     * What an issuer names has to be an address that may be asked, like any other.
     */
    private function isReachable(string $address): bool
    {
        try {
            $this->guard->admit(new Uri($address));

            return true;
        } catch (OutboundRefused|UnknownName|\InvalidArgumentException) {
            return false;
        }
    }
}
