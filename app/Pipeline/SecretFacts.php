<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Access\StoredSecrets;
use App\Models\Environment;
use App\Models\Secret;
use App\Models\Source;
use App\Secrets\UnreadableSecret;
use App\Secrets\Vault;
use DeepSpring\Access\MissingSecret;
use DeepSpring\Diagnose\SecretFact;
use DeepSpring\SourceFile\SourceDefinition;

/**
 * What can be said of the secrets in use without saying what they are.
 */
final class SecretFacts
{
    /**
     * @return list<SecretFact>
     */
    public static function of(Vault $vault, Source $source, Environment $environment, SourceDefinition $definition, StoredSecrets $secrets): array
    {
        $facts = [];
        foreach ($definition->secretNames() as $name) {
            try {
                $elsewhere = [];
                foreach (Secret::query()->where('source_id', $source->id)->where('name', $name)->where('environment_id', '<>', $environment->id)->get() as $other) {
                    $elsewhere[(string) Environment::query()->whereKey($other->environment_id)->value('name')] = $vault->open($other);
                }
                $facts[] = SecretFact::of($name, $secrets->get($name), $elsewhere);
            } catch (MissingSecret|UnreadableSecret) {
                continue;
            }
        }

        return $facts;
    }
}
