<?php

declare(strict_types=1);

namespace App\Access;

use App\Transport\Sent;
use DeepSpring\Access\TokenRefused;
use DeepSpring\Access\TokenScheme;

/**
 * No token could be had, and why.
 */
final class TokenUnavailable extends \RuntimeException
{
    private function __construct(string $message, public readonly ?TokenScheme $scheme = null, public readonly ?Sent $sent = null, public readonly ?TokenRefused $refused = null)
    {
        parent::__construct($message, previous: $refused);
    }

    public static function refused(TokenScheme $scheme, TokenRefused $refused, Sent $sent): self
    {
        return new self($refused->getMessage(), $scheme, $sent, $refused);
    }

    public static function unreached(TokenScheme $scheme, Sent $sent): self
    {
        return new self("The token endpoint did not answer: $sent->detail", $scheme, $sent);
    }

    public static function stopped(): self
    {
        return new self('It was stopped while it waited for a token.');
    }

    public static function busy(int $seconds): self
    {
        return new self("Another worker has been asking for the token for more than $seconds s.");
    }
}
