<?php

declare(strict_types=1);

namespace App\Secrets;

use App\Models\Environment;
use App\Models\Secret;
use App\Models\Source;
use App\Models\User;

/**
 * Secrets go in and are used; nobody gets them shown again. Sealed with XSalsa20-Poly1305
 * (libsodium secretbox) under a key that lives in a file of its own.
 */
final class Vault
{
    public function __construct(private readonly string $keyFile)
    {
    }

    public function put(Source $source, Environment $environment, string $name, #[\SensitiveParameter] string $value, ?User $by): void
    {
        $nonce = random_bytes(SODIUM_CRYPTO_SECRETBOX_NONCEBYTES);
        Secret::query()->updateOrCreate(
            ['source_id' => $source->id, 'environment_id' => $environment->id, 'name' => $name],
            ['sealed' => base64_encode($nonce.sodium_crypto_secretbox($value, $nonce, $this->key())), 'set_by' => $by?->id],
        );
    }

    public function forget(Source $source, Environment $environment, string $name): void
    {
        Secret::query()->where(['source_id' => $source->id, 'environment_id' => $environment->id, 'name' => $name])->delete();
    }

    public function open(Secret $secret): string
    {
        $sealed = (string) base64_decode($secret->sealed, true);
        $value = strlen($sealed) < SODIUM_CRYPTO_SECRETBOX_NONCEBYTES ? false : sodium_crypto_secretbox_open(
            substr($sealed, SODIUM_CRYPTO_SECRETBOX_NONCEBYTES),
            substr($sealed, 0, SODIUM_CRYPTO_SECRETBOX_NONCEBYTES),
            $this->key(),
        );

        return $value === false ? throw new UnreadableSecret("The secret \"{$secret->name}\" cannot be opened with the key in use. Set it again.") : $value;
    }

    public function of(Source $source, Environment $environment): StoredSecrets
    {
        return new StoredSecrets($this, $source, $environment);
    }

    /**
     * A password derived for one purpose, the same at every call.
     */
    public function derive(string $purpose): string
    {
        return hash_hmac('sha256', $purpose, $this->key());
    }

    private function key(): string
    {
        $key = base64_decode(trim((string) @file_get_contents($this->keyFile)), true);
        if ($key === false || strlen($key) !== SODIUM_CRYPTO_SECRETBOX_KEYBYTES) {
            throw new UnreadableSecret("The key for secrets cannot be read from {$this->keyFile}.");
        }

        return $key;
    }
}
