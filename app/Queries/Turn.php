<?php

declare(strict_types=1);

namespace App\Queries;

use Illuminate\Database\Connection;

/**
 * A place among the statements that run, held until it is given back or forgotten.
 */
final class Turn
{
    /**
     * @param  list<string>  $locks
     */
    public function __construct(private readonly Connection $connection, private array $locks)
    {
    }

    public function giveBack(): void
    {
        foreach ($this->locks as $lock) {
            try {
                $this->connection->selectOne('select release_lock(?)', [$lock], false);
            } catch (\PDOException) {
                // The connection is gone, and the lock with it.
            }
        }
        $this->locks = [];
    }

    public function __destruct()
    {
        $this->giveBack();
    }
}
