<?php

declare(strict_types=1);

namespace DeepSpring\Access;

use Psr\Http\Message\RequestInterface;

/**
 * User name and password (RFC 7617), in UTF-8.
 */
final readonly class Basic implements Scheme
{
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
