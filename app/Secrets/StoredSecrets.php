<?php

declare(strict_types=1);

namespace App\Secrets;

use App\Models\Environment;
use App\Models\Secret;
use App\Models\Source;
use DeepSpring\Access\MissingSecret;
use DeepSpring\Access\Secrets;

/**
 * The secrets of one source in one environment, opened when they are needed.
 */
final class StoredSecrets implements Secrets
{
    /** @var array<string, string> */
    private array $opened = [];

    public function __construct(private readonly Vault $vault, private readonly Source $source, private readonly Environment $environment)
    {
    }

    public function get(string $name): string
    {
        if (! isset($this->opened[$name])) {
            $secret = Secret::query()->where(['source_id' => $this->source->id, 'environment_id' => $this->environment->id, 'name' => $name])->first();
            $this->opened[$name] = $secret === null ? throw MissingSecret::named($name, $this->environment->name) : $this->vault->open($secret);
        }

        return $this->opened[$name];
    }
}
