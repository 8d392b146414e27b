<?php

declare(strict_types=1);

namespace App\Queries;

use App\Secrets\NamedLock;

/**
 * A place among the statements that run, held until it is given back or forgotten.
 */
final class QuerySlot
{
    /**
     * @param  list<NamedLock>  $locks
     */
    public function __construct(private array $locks)
    {
    }

    public function giveBack(): void
    {
        foreach ($this->locks as $lock) {
            try {
                $lock->release();
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
