<?php

declare(strict_types=1);

namespace DeepSpring\Access;

use DeepSpring\Value\Kind\Kind;
use Psr\Http\Message\RequestInterface;

/**
 * A service that answers anybody.
 */
final readonly class NoAuthentication implements AccessScheme
{
    public static function kind(): Kind
    {
        return new Kind('none', 'No authentication', 'The service answers anybody.');
    }

    public static function of(array $entry, string $base, array $before): self
    {
        return new self;
    }

    public function apply(RequestInterface $request, Secrets $secrets): RequestInterface
    {
        return $request;
    }

    public function sensitive(Secrets $secrets): array
    {
        return [];
    }

    public function secretNames(): array
    {
        return [];
    }

    public function label(): string
    {
        return 'no authentication';
    }

    public function header(): ?string
    {
        return null;
    }
}
