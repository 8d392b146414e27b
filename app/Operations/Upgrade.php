<?php

declare(strict_types=1);

namespace App\Operations;

use App\Secrets\NamedLock;
use Illuminate\Contracts\Console\Kernel;
use Illuminate\Database\Migrations\Migrator;
use Illuminate\Support\Facades\DB;

/**
 * Brings the database to the version of this application: one process at a time, and never back.
 */
final readonly class Upgrade
{
    /** Seconds that another upgrade is waited for. */
    private const WAIT = 300;

    public function __construct(private Migrator $migrator, private Kernel $console)
    {
    }

    /**
     * @throws UpgradeRefused
     */
    public function run(): void
    {
        $connection = DB::connection('app');
        $lock = NamedLock::of($connection, 'upgrade', (string) $connection->getDatabaseName());
        if (! $lock->take(self::WAIT)) {
            throw UpgradeRefused::because('Another process is upgrading the database, and has been for '.self::WAIT.' s.');
        }
        try {
            $this->refuseNewer();
            $this->console->call('migrate', ['--force' => true]);
        } catch (UpgradeRefused $refused) {
            throw $refused;
        } catch (\Throwable $failed) {
            report($failed);

            throw UpgradeRefused::because('The database could not be brought to this version: '.self::said($failed).' What was done before it is kept; fix the cause, and start again.');
        } finally {
            try {
                $lock->release();
            } catch (\Throwable) {
                // The connection is gone, and the lock with it.
            }
        }
    }

    private function refuseNewer(): void
    {
        if (! $this->migrator->repositoryExists()) {
            return;
        }
        $unknown = array_diff($this->migrator->getRepository()->getRan(), array_keys($this->migrator->getMigrationFiles([database_path('migrations')])));
        if ($unknown !== []) {
            throw UpgradeRefused::because('The database was made by a newer version of this application ('.implode(', ', array_slice($unknown, 0, 3)).'). Start that version, or restore a backup of this one.');
        }
    }

    private static function said(\Throwable $failed): string
    {
        $said = $failed instanceof \Illuminate\Database\QueryException ? (string) $failed->getPrevious()?->getMessage() : $failed->getMessage();

        return match (true) {
            str_contains($said, '[2002]') => 'the database does not answer.',
            preg_match('/errno: 28|No space left|Disk full|table .* is full/i', $said) === 1 => 'the disk is full.',
            default => rtrim(mb_strimwidth((string) preg_replace('/^SQLSTATE\[\w+\]:?\s*(?:\[\d+\]|[^:]*: \d+)?\s*/', '', $said), 0, 240, '…'), '.').'.',
        };
    }
}
