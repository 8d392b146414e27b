<?php

declare(strict_types=1);

namespace App\Secrets;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Models\DataKey;
use App\Models\Environment;
use App\Models\Secret;
use App\Models\Source;
use App\Models\User;
use DeepSpring\Flatten\Mask\Masks;
use Illuminate\Support\Facades\DB;

/**
 * Secrets go in and are used; nobody gets them shown again. They are sealed with XSalsa20-Poly1305
 * (libsodium secretbox) under data keys, and those under the key of a file outside the database, so
 * that a new key in the file means sealing a few keys anew and no secret.
 */
final class Vault
{
    private ?Masks $masks = null;

    /** The key that passwords are derived from. */
    private ?int $first = null;

    /** @var array<int, string> data keys, opened */
    private array $keys = [];

    public function __construct(private readonly string $keyFile, private readonly AuditLog $log)
    {
    }

    /**
     * @param  list<string>|null  $origins  that it is given for; those that the source has now, when null
     */
    public function put(Source $source, Environment $environment, string $name, #[\SensitiveParameter] string $value, ?User $by, ?string $endsOn = null, ?array $origins = null): void
    {
        Secret::query()->updateOrCreate(
            ['source_id' => $source->id, 'environment_id' => $environment->id, 'name' => $name],
            ['sealed' => $this->seal($value), 'set_by' => $by?->id, 'ends_on' => $endsOn ?? self::endOfCertificate($value), 'pending' => null, 'origins' => $origins ?? Origins::ofSource($source, $environment)],
        );
        SpentTokens::markFor($source, $environment);
        $this->log->note(Action::SecretGiven, "$source->slug, $environment->slug: $name", '', $by);
    }

    /**
     * A certificate says itself when it ends.
     */
    private static function endOfCertificate(#[\SensitiveParameter] string $value): ?string
    {
        $parsed = str_contains($value, '-----BEGIN CERTIFICATE-----') ? openssl_x509_parse(str_replace(["\r\n", '\n'], "\n", $value)) : false;

        return is_array($parsed) && isset($parsed['validTo_time_t']) ? gmdate('Y-m-d', (int) $parsed['validTo_time_t']) : null;
    }

    public function forget(Source $source, Environment $environment, string $name): void
    {
        Secret::query()->where(['source_id' => $source->id, 'environment_id' => $environment->id, 'name' => $name])->delete();
        SpentTokens::markFor($source, $environment);
    }

    /**
     * The same secret, written as it should have been; it belongs where and to whom it belonged.
     */
    public function clean(Secret $secret, #[\SensitiveParameter] string $value): void
    {
        $secret->forceFill(['sealed' => $this->seal($value)])->save();
        SpentTokens::markFor(Source::query()->findOrFail($secret->source_id), Environment::query()->findOrFail($secret->environment_id));
    }

    /**
     * Lets a secret travel to where its source leads now, too.
     */
    public function confirm(Secret $secret): void
    {
        $now = Origins::ofSource(Source::query()->findOrFail($secret->source_id), Environment::query()->findOrFail($secret->environment_id));
        $secret->forceFill(['origins' => array_values(array_unique([...$secret->origins ?? [], ...$now]))])->save();
        $this->log->note(Action::SecretConfirmed, (Source::query()->find($secret->source_id)->slug ?? '?').": {$secret->name}", implode(', ', $now));
    }

    /**
     * Keeps a value beside the one in use, until it is known to be accepted.
     */
    public function propose(Secret $secret, #[\SensitiveParameter] string $value, ?string $endsOn): void
    {
        $origins = Origins::ofSource(Source::query()->findOrFail($secret->source_id), Environment::query()->findOrFail($secret->environment_id));
        $secret->forceFill(['pending' => $this->seal(json_encode([base64_encode($value), $endsOn, $origins], JSON_THROW_ON_ERROR))])->save();
    }

    /**
     * The value that waits to be accepted takes its place.
     */
    public function accept(Secret $secret, ?User $by): void
    {
        $pending = $secret->pending === null ? null : json_decode((string) $this->unseal($secret->pending), true);
        if (! is_array($pending)) {
            return;
        }
        $proposed = $secret->updated_at;
        $this->put(Source::query()->findOrFail($secret->source_id), Environment::query()->findOrFail($secret->environment_id), $secret->name, (string) base64_decode((string) $pending[0], true), $by, $pending[1], $pending[2] ?? null);
        // It is as old as its proposal, so that the test of that still counts.
        Secret::query()->whereKey($secret->id)->toBase()->update(['updated_at' => $proposed]);
    }

    public function open(Secret $secret): string
    {
        return $this->unseal($secret->sealed) ?? throw new UnreadableSecret("The secret \"{$secret->name}\" cannot be opened with the key in use. Set it again.");
    }

    public function seal(#[\SensitiveParameter] string $value): string
    {
        $id = $this->currentKey();

        return "k$id:".self::box($value, $this->keys[$id]);
    }

    public function unseal(string $sealed): ?string
    {
        if (preg_match('/^k(\d+):(.+)$/sD', $sealed, $part) !== 1) {
            return self::unbox($sealed, $this->fileKey());
        }
        $key = $this->dataKey((int) $part[1]);

        return $key === null ? null : self::unbox($part[2], $key);
    }

    /**
     * A password derived for one purpose, the same at every call and after the key of the file changed.
     */
    public function derive(string $purpose): string
    {
        if ($this->first === null) {
            $first = DataKey::query()->orderBy('id')->first();
            // The first stays, whatever keys come after it.
            $this->first = $first instanceof DataKey ? $first->id : $this->currentKey();
            $first instanceof DataKey && $this->opened($first);
        }

        return hash_hmac('sha256', $purpose, $this->dataKey($this->first) ?? throw $this->unreadable());
    }

    /**
     * What values of masked columns are masked with, the same in the whole workspace.
     */
    public function masks(): Masks
    {
        return $this->masks ??= new Masks($this->derive('masks'), random_bytes(...));
    }

    /**
     * What is wrong with the key file; null when it opens what was sealed.
     */
    public function trouble(): ?string
    {
        $first = DataKey::query()->min('id');
        if (! is_numeric($first)) {
            return self::read($this->keyFile) === null ? 'there is no key file' : null;
        }

        return $this->dataKey((int) $first) === null ? 'the key file is missing, or is not the one that secrets were sealed with' : null;
    }

    /**
     * Puts a new key into the key file and seals the data keys with it. The new key lies beside the
     * old one until the database has taken the change, so that a stop at any point loses nothing.
     *
     * @return int how many data keys were sealed anew
     */
    public function rotate(): int
    {
        $this->currentKey();
        $old = $this->fileKey();
        $new = random_bytes(SODIUM_CRYPTO_SECRETBOX_KEYBYTES);
        $next = "$this->keyFile.next";
        if (@file_put_contents($next, base64_encode($new)."\n", LOCK_EX) === false || ! chmod($next, 0600)) {
            throw new UnreadableSecret("$next cannot be written.");
        }
        $count = DB::transaction(function () use ($old, $new): int {
            foreach (Secret::query()->where('sealed', 'not like', 'k%:%')->lockForUpdate()->get() as $secret) {
                $secret->forceFill(['sealed' => $this->seal($this->open($secret))])->save();
            }
            $count = 0;
            foreach (DataKey::query()->lockForUpdate()->get() as $key) {
                $key->forceFill(['sealed' => self::box(self::unbox($key->sealed, $old) ?? throw $this->unreadable(), $new)])->save();
                $count++;
            }

            return $count;
        });
        rename($next, $this->keyFile);

        return $count;
    }

    private function currentKey(): int
    {
        $id = DataKey::query()->max('id');
        if (! is_numeric($id)) {
            $key = random_bytes(SODIUM_CRYPTO_SECRETBOX_KEYBYTES);
            $id = DataKey::query()->create(['sealed' => self::box($key, $this->fileKey())])->id;
        }
        $this->dataKey((int) $id) ?? throw $this->unreadable();

        return (int) $id;
    }

    private function dataKey(int $id): ?string
    {
        if (! isset($this->keys[$id])) {
            $found = DataKey::query()->find($id);

            return $found instanceof DataKey ? $this->opened($found) : null;
        }

        return $this->keys[$id];
    }

    private function opened(DataKey $found): ?string
    {
        $key = self::unbox($found->sealed, $this->fileKey()) ?? $this->afterStop($found->sealed);
        if ($key !== null) {
            $this->keys[$found->id] = $key;
        }

        return $key;
    }

    /**
     * A change of the key that was stopped between the database and the file is finished.
     */
    private function afterStop(string $sealed): ?string
    {
        $next = self::read("$this->keyFile.next");
        $key = $next === null ? null : self::unbox($sealed, $next);
        if ($key !== null) {
            rename("$this->keyFile.next", $this->keyFile);
        }

        return $key;
    }

    private function fileKey(): string
    {
        return self::read($this->keyFile) ?? throw $this->unreadable();
    }

    private static function read(string $file): ?string
    {
        $key = base64_decode(trim((string) @file_get_contents($file)), true);

        return $key === false || strlen($key) !== SODIUM_CRYPTO_SECRETBOX_KEYBYTES ? null : $key;
    }

    private function unreadable(): UnreadableSecret
    {
        return new UnreadableSecret('The key for secrets cannot be read, or is not the one that they were sealed with. It belongs into '.basename($this->keyFile).' in the folder of keys.');
    }

    private static function box(#[\SensitiveParameter] string $value, #[\SensitiveParameter] string $key): string
    {
        $nonce = random_bytes(SODIUM_CRYPTO_SECRETBOX_NONCEBYTES);

        return base64_encode($nonce.sodium_crypto_secretbox($value, $nonce, $key));
    }

    private static function unbox(string $sealed, #[\SensitiveParameter] string $key): ?string
    {
        $raw = (string) base64_decode($sealed, true);
        if (strlen($raw) < SODIUM_CRYPTO_SECRETBOX_NONCEBYTES + SODIUM_CRYPTO_SECRETBOX_MACBYTES) {
            return null;
        }
        $value = sodium_crypto_secretbox_open(substr($raw, SODIUM_CRYPTO_SECRETBOX_NONCEBYTES), substr($raw, 0, SODIUM_CRYPTO_SECRETBOX_NONCEBYTES), $key);

        return $value === false ? null : $value;
    }
}
