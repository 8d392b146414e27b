<?php

declare(strict_types=1);

namespace App\Queries\Results;

use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\QueryKeep;
use DeepSpring\Sql\Lexer;
use DeepSpring\Sql\NamedTables;
use DeepSpring\Sql\Token;

/**
 * The kept tables that a statement reads, also through views, each with a mark of the rows that are in it now.
 */
final class TablesBeneath
{
    /** What gives something else each time, whatever the tables hold. */
    private const CHANGING = ['now', 'curdate', 'curtime', 'current_date', 'current_time', 'current_timestamp', 'localtime', 'localtimestamp', 'sysdate', 'utc_date', 'utc_time', 'utc_timestamp', 'unix_timestamp', 'rand', 'random_bytes', 'uuid', 'uuid_short', 'sys_guid', 'user', 'current_user', 'session_user', 'system_user', 'connection_id', 'last_insert_id', 'found_rows', 'row_count', 'sleep', 'benchmark', 'get_lock', 'release_lock', 'is_free_lock', 'is_used_lock', 'version', 'nextval', 'lastval', 'next', 'previous'];

    /**
     * @return array<string, string>|null null for a statement of which nobody can say when its answer changes
     */
    public static function of(Environment $environment, string $sql): ?array
    {
        $names = [];
        $texts = [$sql];
        for ($seen = []; $texts !== []; $texts = $next) {
            $next = [];
            foreach ($texts as $text) {
                if (self::changes($text)) {
                    return null;
                }
                foreach (NamedTables::of($text) as $one) {
                    if ($one->schema !== null) {
                        return null;
                    }
                    $names[] = $one->name;
                }
            }
            $new = array_values(array_diff(array_unique($names), $seen));
            $seen = array_values(array_unique($names));
            foreach ($new === [] ? [] : QueryKeep::query()->with('savedQuery')->where(['environment_id' => $environment->id, 'is_view' => true])->whereIn('name', $new)->get() as $keep) {
                $next[] = $keep->savedQuery->sql;
            }
        }

        return self::marks($environment, array_values(array_unique($names)));
    }

    /**
     * @param  list<string>  $names
     * @return array<string, string>|null
     */
    private static function marks(Environment $environment, array $names): ?array
    {
        $kept = KeptTable::query()->where('environment_id', $environment->id)->whereIn('name', $names)->orderBy('name')->get(['name', 'run_id', 'rows', 'patches', 'is_view', 'refreshed_at']);
        $marks = [];
        foreach ($kept as $table) {
            $marks[$table->name] = $table->is_view ? 'view' : $table->mark();
        }

        // What is no kept table is read from its service, or an earlier state.
        return count($marks) === count(array_unique(array_map(strtolower(...), $names))) ? $marks : null;
    }

    private static function changes(string $sql): bool
    {
        $tokens = Lexer::read($sql);
        foreach ($tokens as $number => $token) {
            $isCall = ($tokens[$number + 1] ?? null)?->is('(') === true;
            $isColumn = ($tokens[$number - 1] ?? null)?->is('.', 'as') === true || ($tokens[$number + 1] ?? null)?->is('.') === true;
            if ($token->is('@') || $token->is(...self::CHANGING) && ! $isColumn && ($isCall || $token->is('current_date', 'current_time', 'current_timestamp', 'localtime', 'localtimestamp', 'utc_date', 'utc_time', 'utc_timestamp', 'current_user'))) {
                return true;
            }
        }

        return array_filter($tokens, static fn (Token $token): bool => $token->is('for') && str_contains(strtolower($sql), 'system_time')) !== [];
    }
}
