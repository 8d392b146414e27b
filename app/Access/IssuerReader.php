<?php

declare(strict_types=1);

namespace App\Access;

use App\Transport\Limits;
use App\Transport\Transport;
use DeepSpring\Access\Mask;
use DeepSpring\Access\OAuth\Discovery;
use GuzzleHttp\Psr7\Request;

/**
 * Asks an issuer for its addresses.
 */
final readonly class IssuerReader
{
    public function __construct(private Transport $transport)
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
            $sent = $this->transport->send(new Request('GET', $place, ['accept' => 'application/json']), new Limits(10, 1, 1024 * 1024), new Mask([]));
            $found = $sent->status === 200 ? Discovery::read($sent->body, $issuer) : null;
            if ($found !== null && $found !== []) {
                return $found;
            }
        }

        return [];
    }
}
