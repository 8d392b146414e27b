<?php

declare(strict_types=1);

namespace App\Operations;

use App\Secrets\Vault;
use Illuminate\Database\Migrations\Migrator;
use Illuminate\Support\Facades\DB;

/**
 * Whether this instance can do its work, part by part.
 */
final readonly class Readiness
{
    private const FREE_BYTES = 200 * 1024 * 1024;

    /** Seconds that a job may wait for a worker before something is wrong. */
    private const PATIENCE = 300;

    public function __construct(private Migrator $migrator, private Vault $vault)
    {
    }

    /**
     * @return array<string, string|null> part → what is wrong with it
     */
    public function parts(): array
    {
        return [
            'database' => $this->quietly(static fn (): ?string => DB::connection('app')->selectOne('select 1 as one') === null ? 'it gives no answer' : null),
            'migrations' => $this->quietly($this->migrations(...)),
            'queue' => $this->quietly($this->queue(...)),
            'key' => $this->quietly(fn (): ?string => $this->vault->trouble()),
            'disk' => $this->disk(),
        ];
    }

    private function migrations(): ?string
    {
        $there = array_keys($this->migrator->getMigrationFiles([database_path('migrations')]));
        $ran = $this->migrator->getRepository()->getRan();

        return match (true) {
            array_diff($there, $ran) !== [] => 'the database is of an older version',
            array_diff($ran, $there) !== [] => 'the database is of a newer version',
            default => null,
        };
    }

    private function queue(): ?string
    {
        $age = (new Figures)->oldestJob();

        return $age > self::PATIENCE ? "the oldest job has waited for $age s: does a worker run?" : null;
    }

    private function disk(): ?string
    {
        $free = @disk_free_space(base_path(config('spring.var').'/tmp'));

        return $free !== false && $free < self::FREE_BYTES ? sprintf('%d MB are left', $free / 1_048_576) : null;
    }

    /**
     * @param  \Closure(): ?string  $look
     */
    private function quietly(\Closure $look): ?string
    {
        try {
            return $look();
        } catch (\Throwable $failed) {
            return $failed instanceof \PDOException ? 'the database cannot be reached' : 'it cannot be looked at';
        }
    }
}
