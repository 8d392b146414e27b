<?php

declare(strict_types=1);

namespace App\Access;

use DeepSpring\Access\AccessToken;
use DeepSpring\Access\ConsentMissing;
use DeepSpring\Access\Secrets;
use DeepSpring\Access\TokenScheme;

/**
 * The secrets of a source for an endpoint on another server. A token goes there when every secret that
 * it is got with was given for that server.
 */
final readonly class SecretsElsewhere implements Secrets
{
    public function __construct(private StoredSecrets $secrets, private string $origin)
    {
    }

    public function get(string $name): string
    {
        $this->secrets->requireFor($name, $this->origin);

        return $this->secrets->get($name);
    }

    public function token(TokenScheme $scheme): AccessToken
    {
        $names = $scheme->secretNames();
        if ($names === []) {
            throw ConsentMissing::elsewhere([], [$this->origin]);
        }
        foreach ($names as $name) {
            $this->secrets->requireFor($name, $this->origin);
        }

        return $this->secrets->token($scheme);
    }
}
