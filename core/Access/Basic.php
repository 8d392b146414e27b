<?php

declare(strict_types=1);

namespace DeepSpring\Access;

use DeepSpring\Value\Kind\Kind;
use Psr\Http\Message\RequestInterface;

/**
 * User name and password (RFC 7617), in UTF-8.
 */
final readonly class Basic implements AccessScheme
{
    public static function kind(): Kind
    {
        return new Kind('basic', 'Basic', 'User name and password with every request (RFC 7617).', [
            SchemeSettings::value('username', 'user name', 'The user name.', true, 'username'),
            SchemeSettings::secret('password', 'password', 'The password.'),
        ]);
    }

    public static function of(array $entry, string $base, array $before): self
    {
        return new self(Value::of($entry['username']), Value::of($entry['password']));
    }

    public function __construct(private Value $username, private Value $password)
    {
    }

    public function apply(RequestInterface $request, Secrets $secrets): RequestInterface
    {
        return $request->withHeader('authorization', 'Basic '.$this->credentials($secrets));
    }

    public function sensitive(Secrets $secrets): array
    {
        $values = [$this->credentials($secrets), $this->password->reveal($secrets)];

        return $this->username->secret ? [...$values, $this->username->reveal($secrets)] : $values;
    }

    public function secretNames(): array
    {
        return [...$this->username->secretNames(), ...$this->password->secretNames()];
    }

    public function label(): string
    {
        return 'user name and password';
    }

    public function header(): string
    {
        return 'authorization';
    }

    private function credentials(Secrets $secrets): string
    {
        return base64_encode($this->username->reveal($secrets).':'.$this->password->reveal($secrets));
    }
}
