<?php

declare(strict_types=1);

namespace DeepSpring\Access;

use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;
use Psr\Http\Message\RequestInterface;

/**
 * A token in the Authorization header (RFC 6750 §2.1).
 */
final readonly class Bearer implements AccessScheme
{
    public static function kind(): Kind
    {
        return new Kind('bearer', 'Bearer token', 'A token in the header `Authorization` (RFC 6750).', [
            SchemeSettings::secret('token', 'token', 'The token.'),
            new Field('prefix', FieldType::Text, 'prefix', 'What stands before it.', default: 'Bearer', shape: ['type' => 'string', 'pattern' => '^[A-Za-z0-9_-]*$']),
        ]);
    }

    public static function of(array $entry, string $base, array $before): self
    {
        return new self(Value::of($entry['token']), $entry['prefix'] ?? 'Bearer');
    }

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
