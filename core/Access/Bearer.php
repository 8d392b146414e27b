<?php

declare(strict_types=1);

namespace DeepSpring\Access;

use Psr\Http\Message\RequestInterface;

/**
 * A token in the Authorization header (RFC 6750 §2.1).
 */
final readonly class Bearer implements Scheme
{
    public function __construct(private Value $token, private string $prefix = 'Bearer')
    {
    }

    public function apply(RequestInterface $request, Secrets $secrets): RequestInterface
    {
        return $request->withHeader('authorization', ltrim($this->prefix.' ').HeaderValue::checked($this->token->reveal($secrets), 'token'));
    }

    public function sensitive(Secrets $secrets): array
    {
        return [$this->token->reveal($secrets)];
    }

    public function secretNames(): array
    {
        return $this->token->secretNames();
    }

    public function label(): string
    {
        return 'bearer token';
    }

    public function header(): string
    {
        return 'authorization';
    }
}
