<?php

declare(strict_types=1);

namespace App\Reservoir;

use App\Models\Environment;
use App\Models\KeptTable;
use DeepSpring\Flatten\Plan;

/**
 * Where kept tables live: one place for each environment. How they are stored is known to the
 * implementation alone.
 */
interface TableStore
{
    /**
     * Tables to be filled beside those that are kept.
     *
     * @param  string  $owner  letters and digits; only one stage of the same owner is open at a time
     */
    public function stage(Environment $environment, string $owner, Plan $plan): StagedTables;

    /**
     * Tables that are kept, to be asked for rows that break a rule.
     *
     * @param  list<KeptTable>  $tables  of one endpoint, the main table first
     * @param  int  $longest  seconds that one statement may take
     */
    public function checked(Environment $environment, array $tables, int $longest): CheckedRows;

    /**
     * Drops what an owner staged and nobody goes on with.
     */
    public function discard(Environment $environment, string $owner): void;

    /**
     * Drops tables that an owner has in place, with what it staged and the answers that were kept with them.
     *
     * @param  list<string>  $tables
     */
    public function remove(Environment $environment, string $owner, array $tables): void;

    /**
     * The answers that were kept with the tables of an owner.
     */
    public function pages(Environment $environment, string $owner): KeptPages;

    /**
     * Whose stages there are, at work or left over.
     *
     * @return list<string> owners
     */
    public function stages(Environment $environment): array;

    /**
     * Who has pages kept, and whether that is longer ago than so many days.
     *
     * @return array<string, bool> by owner
     */
    public function keptLongerThan(Environment $environment, int $days): array;

    /**
     * Which connection is at work on an owner's stage.
     */
    public function writer(Environment $environment, string $owner): ?int;

    /**
     * Parts a writer from the tables: its machine is gone, or it hangs.
     */
    public function disconnect(int $writer): void;

    public function addEnvironment(Environment $environment): void;

    /**
     * With all that is in it.
     */
    public function dropEnvironment(Environment $environment): void;

    /**
     * After the database was away.
     *
     * @throws \PDOException while it still is
     */
    public function reconnect(): void;
}
