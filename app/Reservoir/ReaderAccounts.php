<?php

declare(strict_types=1);

namespace App\Reservoir;

use App\Models\Environment;
use App\Models\Principal;

/**
 * Each principal who queries has an account of the database for each environment, with SELECT on
 * exactly the tables they may see. The database itself refuses the rest.
 */
interface ReaderAccounts
{
    /**
     * A new connection as this principal's account, its rights brought up to date first.
     *
     * @param  int  $seconds  after which the database ends a statement
     * @param  list<string>  $more  tables that are there for this query alone
     * @param  bool  $isAligned  whether its rights are known to be up to date
     */
    public function connect(Principal $principal, Environment $environment, int $seconds, array $more = [], bool $isAligned = false): \PDO;

    /**
     * Brings the rights of a principal's account up to date, without a connection: of the owner of a view, before somebody reads it.
     */
    public function align(Principal $principal, Environment $environment): void;

    /**
     * Writes down what is set for a principal, where views of this environment find it.
     */
    public function tell(Principal $principal, Environment $environment): void;

    /**
     * The number of a connection, by which another process can stop what it does.
     */
    public function number(\PDO $pdo): ?int;

    /**
     * Ends the statement that a connection runs; the connection stays. One that is gone is no fault.
     */
    public function stop(int $number): void;

    /**
     * Ends what a connection is still doing.
     */
    public function abandon(\PDO $pdo): void;

    /**
     * Takes back the right to read tables that were there for one query; one that is gone already is no fault.
     *
     * @param  list<string>  $tables
     */
    public function withdraw(Principal $principal, Environment $environment, array $tables): void;

    public function drop(Principal $principal): void;
}
