<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Access\TokenStore;
use App\Models\Environment;
use App\Models\Source;
use App\Models\User;
use App\Secrets\Vault;
use App\Transport\Transport;
use DeepSpring\SourceFile\SourceDefinition;

/**
 * Opens connections to sources.
 */
final readonly class SourceConnections
{
    public function __construct(private Transport $transport, private Vault $vault, private TokenStore $tokens)
    {
    }

    /**
     * @param  SourceDefinition  $definition  by which it is read: the draft, or what is published
     * @param  User|null  $person  whose consent is used, where a scheme asks for one of each person
     * @param  array<string, string>  $instead  values of secrets to be used in place of the stored ones
     *
     * @throws ReadingFailed when there is no usable secret or variable
     */
    public function open(Source $source, SourceDefinition $definition, Environment $environment, ?User $person = null, #[\SensitiveParameter] array $instead = []): SourceConnection
    {
        return new SourceConnection($this->transport, $this->vault, $this->tokens->secretsOf($source, $definition, $environment, $person, $instead), $source, $definition, $environment);
    }
}
