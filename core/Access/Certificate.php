<?php

declare(strict_types=1);

namespace DeepSpring\Access;

/**
 * What proves a client in the TLS handshake (RFC 8446 §4.4.2), as PEM.
 */
final readonly class Certificate
{
    public function __construct(public string $certificate, #[\SensitiveParameter] public string $key, #[\SensitiveParameter] public string $passphrase = '')
    {
    }
}
