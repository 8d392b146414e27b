<?php

declare(strict_types=1);

namespace App\Reservoir;

use App\Models\Environment;

/**
 * Asks the database how it would answer a statement, without having it answered.
 */
interface StatementPlans
{
    /**
     * @param  \PDO  $reader  of ReaderAccounts, with nothing under way
     * @return StatementPlan|null where there is nothing to say of it, or it is refused
     */
    public function of(\PDO $reader, Environment $environment, string $sql): ?StatementPlan;
}
