<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Models\Environment;
use App\Models\Feed;
use App\Models\KeptTable;
use App\Models\Principal;
use App\Models\TableState;
use DeepSpring\History\StateNames;
use Illuminate\Database\Connection;
use Illuminate\Database\QueryException;

/**
 * SELECT on exactly the tables that a principal may see, for an account of the database.
 */
final readonly class AccountRights
{
    private const NO_SUCH_TABLE = 1146;

    public function __construct(private Connection $keeper)
    {
    }

    /**
     * @param  list<string>  $more  tables that are there for one query alone
     * @param  \Closure(): void  $make  makes the account; asked where nothing is granted to it
     */
    public function align(Principal $principal, string $account, string $host, Environment $environment, array $more, \Closure $make): void
    {
        $schema = $environment->schema();
        $who = self::quoted($account, $host);
        $kept = KeptTable::query()->where('environment_id', $environment->id)->pluck('is_view', 'name');
        $views = $kept->filter()->keys()->all();
        $allowed = $principal->tables($environment);
        $feeds = $allowed ?? Feed::viewsForPeople($environment);
        $allowed ??= [...$kept->keys()->all(), ...TableState::readable($environment), ...$feeds, ...$more];
        $granted = array_map(
            static fn (object $row): string => (string) $row->name,
            $this->keeper->select('select Table_name as name from mysql.tables_priv where User = ? and Host = ? and Db = ?', [$account, $host, $schema], false),
        );
        if ($granted === [] || $this->keeper->selectOne('select 1 from mysql.global_priv where User = ? and Host = ?', [$account, $host], false) === null) {
            $make();
        }
        // What was taken away goes first, whatever becomes of the rest.
        // What another query of the same person reads stays until that is gone.
        $there = $this->live($schema, array_values(array_filter(array_diff($granted, $allowed), static fn (string $name): bool => str_starts_with($name, 'stage__live'))));
        foreach (array_diff($granted, $allowed, $there) as $table) {
            $this->keeper->unprepared('REVOKE ALL PRIVILEGES ON '.Sql::table($schema, $table)." FROM $who");
        }
        $missing = null;
        foreach (array_diff($allowed, $granted) as $table) {
            try {
                $this->keeper->unprepared('GRANT SELECT ON '.Sql::table($schema, (string) $table)." TO $who");
            } catch (QueryException $refused) {
                if (($refused->errorInfo[1] ?? null) !== self::NO_SUCH_TABLE) {
                    throw $refused;
                }
                // An earlier state or a view may just have been given up; of anything else, what is there is granted first.
                $missing ??= StateNames::mayBeOne((string) $table) || in_array($table, [...$views, ...$feeds], true) ? null : $refused;
            }
        }
        if ($missing !== null) {
            throw $missing;
        }
    }

    public static function quoted(string $account, string $host): string
    {
        return "'$account'@'$host'";
    }

    /**
     * @param  list<string>  $names
     * @return list<string> those that exist
     */
    private function live(string $schema, array $names): array
    {
        return $names === [] ? [] : array_map(static fn (object $row): string => (string) $row->name, $this->keeper->select('select table_name as name from information_schema.tables where table_schema = ? and table_name in ('.implode(', ', array_fill(0, count($names), '?')).')', [$schema, ...$names], false));
    }
}
