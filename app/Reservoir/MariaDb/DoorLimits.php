<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Models\DoorAccount;
use App\Models\Environment;
use App\Reservoir\DoorAccounts;
use Illuminate\Database\Connection;
use Illuminate\Database\QueryException;

/**
 * What accounts of tools may take, held by events of the database that look every two seconds, since a connection can
 * lift the limits that MariaDB gives it: how long a statement takes, and how many rows a day are sent. An account that
 * has had its rows is locked until the day is over (UTC), and its connections are ended, so that nothing is quietly
 * missing.
 */
final readonly class DoorLimits
{
    private const TABLE = 'limits__of_tools';

    private const NO_SUCH_COLUMN = 1054;

    private const NO_SUCH_TABLE = 1146;

    /** Whether an account has had all its rows of this day. */
    private const HAD_ALL = 'IF(day <=> UTC_DATE(), counted, 0) >= rows_a_day';

    public function __construct(private Connection $keeper)
    {
    }

    /**
     * Begins to look after an account, which is not locked now.
     */
    public function watch(DoorAccount $account): void
    {
        $schema = $account->environment->schema();
        $limits = Sql::table($schema, self::TABLE);
        $this->keeper->unprepared("CREATE TABLE IF NOT EXISTS $limits (account VARCHAR(80) NOT NULL PRIMARY KEY, seconds INT UNSIGNED NOT NULL) ENGINE=InnoDB CHARSET utf8mb4 COLLATE utf8mb4_nopad_bin");
        $this->keeper->unprepared("ALTER TABLE $limits ADD COLUMN IF NOT EXISTS rows_a_day BIGINT UNSIGNED NOT NULL DEFAULT ".DoorAccount::ROWS_A_DAY.', ADD COLUMN IF NOT EXISTS day DATE NULL, ADD COLUMN IF NOT EXISTS seen BIGINT UNSIGNED NOT NULL DEFAULT 0, ADD COLUMN IF NOT EXISTS counted BIGINT UNSIGNED NOT NULL DEFAULT 0, ADD COLUMN IF NOT EXISTS is_locked BOOL NOT NULL DEFAULT FALSE');
        $this->keeper->statement("insert into $limits (account, seconds, rows_a_day) values (?, ?, ?) on duplicate key update seconds = values(seconds), rows_a_day = values(rows_a_day), is_locked = false", [$account->name, $account->seconds, $account->rowsADay()]);
        $is = 'CONVERT(%s USING utf8mb4) COLLATE utf8mb4_nopad_bin';
        $ofTools = "information_schema.PROCESSLIST p JOIN $limits l ON l.account = ".sprintf($is, 'p.USER');
        $this->event($schema, 'end_long_statements', "FOR one IN (SELECT p.ID AS id FROM $ofTools WHERE p.COMMAND IN ('Query', 'Execute') AND p.TIME_MS > l.seconds * 1000) DO KILL QUERY one.id; END FOR");
        // Counts begin anew with the server; what was counted of the day stays.
        $this->event($schema, 'count_rows_of_tools', "BEGIN
            FOR s IN (SELECT l.account, SUM(u.ROWS_SENT) AS sent FROM information_schema.USER_STATISTICS u JOIN $limits l ON l.account = ".sprintf($is, 'u.USER').' GROUP BY l.account) DO
                UPDATE '.$limits.' SET counted = IF(day <=> UTC_DATE(), counted, 0) + IF(s.sent >= seen, s.sent - seen, s.sent), seen = s.sent, day = UTC_DATE() WHERE account = s.account AND (seen <> s.sent OR NOT day <=> UTC_DATE());
            END FOR;
            FOR a IN (SELECT account, '.self::HAD_ALL." AS had_all FROM $limits WHERE is_locked <> (".self::HAD_ALL.")) DO
                EXECUTE IMMEDIATE CONCAT('ALTER USER ''', a.account, '''@''".DoorAccounts::FROM."'' ACCOUNT ', IF(a.had_all, 'LOCK', 'UNLOCK'));
                UPDATE $limits SET is_locked = a.had_all WHERE account = a.account;
            END FOR;
            FOR one IN (SELECT p.ID AS id FROM $ofTools WHERE l.is_locked) DO KILL HARD CONNECTION one.id; END FOR;
        END");
    }

    /**
     * Follows what its reader may have; an account of an earlier version is looked after from now on.
     */
    public function align(DoorAccount $account): void
    {
        $limits = Sql::table($account->environment->schema(), self::TABLE);
        try {
            $this->keeper->update("update $limits set rows_a_day = ? where account = ? and rows_a_day <> ?", [$account->rowsADay(), $account->name, $account->rowsADay()]);
        } catch (QueryException $refused) {
            in_array($refused->errorInfo[1] ?? null, [self::NO_SUCH_COLUMN, self::NO_SUCH_TABLE], true) ? $this->watch($account) : throw $refused;
        }
    }

    public function forget(DoorAccount $account): void
    {
        $this->keeper->delete('delete from '.Sql::table($account->environment->schema(), self::TABLE).' where account = ?', [$account->name]);
    }

    /**
     * Rows that accounts were sent today, and which of them are locked for that.
     *
     * @return array<string, array{int, bool}> by the name of the account
     */
    public function taken(Environment $environment): array
    {
        try {
            $found = $this->keeper->select('select account, if(day <=> utc_date(), counted, 0) as counted, is_locked from '.Sql::table($environment->schema(), self::TABLE), [], false);
        } catch (QueryException $refused) {
            return in_array($refused->errorInfo[1] ?? null, [self::NO_SUCH_COLUMN, self::NO_SUCH_TABLE], true) ? [] : throw $refused;
        }

        return array_combine(array_column($found, 'account'), array_map(static fn (object $one): array => [(int) $one->counted, (bool) $one->is_locked], $found));
    }

    private function event(string $schema, string $name, string $does): void
    {
        $this->keeper->unprepared('CREATE EVENT IF NOT EXISTS '.Sql::table($schema, $name)." ON SCHEDULE EVERY 2 SECOND DO $does");
    }
}
