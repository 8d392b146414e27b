<?php

declare(strict_types=1);

namespace DeepSpring\Access;

/**
 * Secrets held in memory.
 */
final readonly class GivenSecrets implements Secrets
{
    /**
     * @param  array<string, string>  $values
     */
    public function __construct(#[\SensitiveParameter] private array $values, private string $environment = 'this environment', private ?AccessToken $token = null)
    {
    }

    public function token(TokenScheme $scheme): AccessToken
    {
        return $this->token ?? throw ConsentMissing::forAll();
    }

    public function get(string $name): string
    {
        return $this->values[$name] ?? throw MissingSecret::named($name, $this->environment);
    }
}
