<?php

declare(strict_types=1);

namespace App\Secrets;

use App\Models\DataKey;
use App\Models\Environment;
use App\Models\Secret;
use App\Models\Source;
use App\Models\StoredToken;
use App\Models\User;
use Illuminate\Support\Facades\DB;

/**
 * The file with the key that seals the keys of secrets. It is made where nothing was ever sealed; a
 * lost one is never replaced in silence.
 */
final readonly class KeyFile
{
    public function __construct(private string $file)
    {
    }

    public static function ofInstallation(): self
    {
        return new self(base_path(config('spring.secrets_key_file')));
    }

    /**
     * @throws UnreadableSecret when there is no file, and something that it has sealed
     */
    public function ensure(): void
    {
        if (is_file($this->file)) {
            return;
        }
        // A change of the key that was stopped in its last step.
        if (is_file("$this->file.next")) {
            rename("$this->file.next", $this->file);

            return;
        }
        if (DataKey::query()->exists()) {
            throw new UnreadableSecret($this->lost());
        }
        $this->make();
    }

    public function make(): void
    {
        $old = umask(0077);
        $text = base64_encode(random_bytes(SODIUM_CRYPTO_SECRETBOX_KEYBYTES))."\n";
        $written = @file_put_contents("$this->file.new", $text) === strlen($text) && rename("$this->file.new", $this->file);
        umask($old);
        if (! $written) {
            throw new UnreadableSecret("The key file {$this->file} cannot be written: is the disk full?");
        }
    }

    /**
     * Begins again without whatever the lost key had sealed.
     *
     * @return list<string> names of the secrets that have to be given again
     */
    public function forget(): array
    {
        $names = $this->names();
        DB::transaction(static function (): void {
            Secret::query()->delete();
            StoredToken::query()->delete();
            DB::table('consents')->delete();
            DB::table('change_links')->delete();
            User::query()->whereNotNull('totp_secret')->update(['totp_secret' => null, 'totp_confirmed_at' => null, 'recovery_codes' => null]);
            DataKey::query()->delete();
        });
        @unlink($this->file);
        $this->make();

        return $names;
    }

    private function lost(): string
    {
        $names = $this->names();
        $list = implode(', ', array_slice($names, 0, 20)).(count($names) > 20 ? ' and '.(count($names) - 20).' more' : '');

        return "The key file {$this->file} is gone, and the database holds what it sealed".($names === [] ? '.' : ": $list.")
            .' Put the file back from a backup, and start again. Without it, ./spring up --forget-secrets begins again without them: each has to be given again, people set up their second factor anew, and masked columns get other masks.';
    }

    /**
     * @return list<string>
     */
    private function names(): array
    {
        $sources = Source::query()->pluck('name', 'id');
        $environments = Environment::query()->pluck('name', 'id');

        return Secret::query()->orderBy('source_id')->orderBy('name')->get()
            ->map(static fn (Secret $secret): string => "{$secret->name} of ".($sources[$secret->source_id] ?? '?').' in '.($environments[$secret->environment_id] ?? '?'))->values()->all();
    }
}
