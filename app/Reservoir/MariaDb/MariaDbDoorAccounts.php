<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Models\DoorAccount;
use App\Models\Environment;
use App\Reservoir\DoorAccounts;
use Illuminate\Database\Connection;
use Illuminate\Database\ConnectionResolverInterface;
use Illuminate\Database\QueryException;

/**
 * They are accounts of the one address from which connections of the door come, so nobody reaches them by another way,
 * and nobody reaches another account by the door.
 */
final readonly class MariaDbDoorAccounts implements DoorAccounts
{
    private const LETTERS = '23456789abcdefghjkmnpqrstuvwxyzABCDEFGHJKLMNPQRSTUVWXYZ';

    private const LENGTH = 28;

    private const NO_SUCH_TABLE = 1146;

    public function __construct(private ConnectionResolverInterface $databases)
    {
    }

    public function give(DoorAccount $account): string
    {
        $password = '';
        while (strlen($password) < self::LENGTH) {
            $password .= self::LETTERS[random_int(0, strlen(self::LETTERS) - 1)];
        }
        $who = $this->who($account);
        $this->keeper()->unprepared("CREATE USER IF NOT EXISTS $who ACCOUNT LOCK");
        $this->keeper()->unprepared("ALTER USER $who IDENTIFIED BY ".$this->keeper()->getPdo()->quote($password)." REQUIRE SSL WITH MAX_USER_CONNECTIONS $account->at_once MAX_STATEMENT_TIME $account->seconds ACCOUNT UNLOCK");
        $this->limits()->watch($account);
        $this->align($account);

        return $password;
    }

    public function align(DoorAccount $account): void
    {
        $keeper = $this->keeper();
        $this->limits()->align($account);
        (new ViewFunctions($keeper))->set($account->environment, $account->name, $account->values());
        try {
            (new AccountRights($keeper))->align($account, $account->name, self::FROM, $account->environment, [], function () use ($keeper, $account): void {
                // One that is gone from the database opens nothing until it is given a password again.
                $keeper->unprepared("CREATE USER IF NOT EXISTS {$this->who($account)} ACCOUNT LOCK");
            });
        } catch (QueryException $refused) {
            // A table that is not there can be granted at the next look.
            if (($refused->errorInfo[1] ?? null) !== self::NO_SUCH_TABLE) {
                throw $refused;
            }
        }
    }

    public function drop(DoorAccount $account): void
    {
        $keeper = $this->keeper();
        $keeper->unprepared("DROP USER IF EXISTS {$this->who($account)}");
        try {
            $keeper->unprepared("KILL HARD CONNECTION USER {$this->who($account)}");
        } catch (QueryException) {
            // It had no connection.
        }
        (new ViewFunctions($keeper))->set($account->environment, $account->name, []);
        $this->limits()->forget($account);
    }

    public function taken(Environment $environment): array
    {
        return $this->limits()->taken($environment);
    }

    private function limits(): DoorLimits
    {
        return new DoorLimits($this->keeper());
    }

    private function who(DoorAccount $account): string
    {
        return AccountRights::quoted($account->name, self::FROM);
    }

    private function keeper(): Connection
    {
        $connection = $this->databases->connection(MariaDbTableStore::CONNECTION);

        return $connection instanceof Connection ? $connection : throw new \LogicException('Accounts of tools need a connection to MariaDB.');
    }
}
