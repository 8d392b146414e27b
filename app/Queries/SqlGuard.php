<?php

declare(strict_types=1);

namespace App\Queries;

/**
 * Lets one statement through that reads. The database account can do no more than read in any
 * case; this keeps a person from lifting their own limits, and gives a sentence instead of an
 * error of the database.
 */
final class SqlGuard
{
    /** Functions that do something to others, or let somebody wait for them: reading has no use of them. */
    private const NOT_FOR_READING = [
        'get_lock', 'release_lock', 'release_all_locks', 'is_free_lock', 'is_used_lock', 'benchmark', 'load_file', 'nextval', 'lastval', 'setval',
        'master_pos_wait', 'master_gtid_wait', 'wsrep_sync_wait_upto_gtid',
    ];

    /** What can be shown: of tables, not of accounts or the server. */
    private const SHOWN = '/^show\s+(?:full\s+)?(?:tables|table\s+status|columns|fields|index|indexes|keys|create\s+(?:table|view)|databases|schemas|warnings|errors|character\s+set|collation)\b/i';

    private const READING = ['select', 'with', 'table', 'values', 'show', 'describe', 'desc', 'explain'];

    /**
     * @return string the statement without semicolons at its end
     *
     * @throws QueryRefused
     */
    public static function checked(string $sql): string
    {
        $most = (int) config('spring.query.statement_bytes');
        if (strlen($sql) > $most) {
            throw QueryRefused::because('A statement has at most '.intdiv($most, 1024).' KB; this has '.intdiv(strlen($sql), 1024).'. Long lists of values belong into a table, or into a condition with a range.');
        }
        if (! mb_check_encoding($sql, 'UTF-8')) {
            throw QueryRefused::because('The statement is not UTF-8.');
        }
        $bare = self::bare($sql);
        if (trim($bare, " \t\r\n;") === '') {
            throw QueryRefused::because('Write a query first, for example: select * from loans');
        }
        if (preg_match('/;[\s;]*[^\s;]/', $bare) === 1) {
            throw QueryRefused::because('One statement at a time: there is something after the semicolon.');
        }
        $first = preg_match('/^[\s(]*([a-z]+)/i', $bare, $found) === 1 ? strtolower($found[1]) : '';
        if (! in_array($first, self::READING, true)) {
            throw QueryRefused::because('A query here starts with select or with; '.($first === '' ? 'this does not.' : "\"$first\" is not possible, kept tables are changed by their source only."));
        }
        if (preg_match('/\binto\s+(outfile|dumpfile|@)/i', $bare) === 1) {
            throw QueryRefused::because('A query cannot write to a file or a variable. Use the export below the result.');
        }
        if (preg_match('/\b('.implode('|', self::NOT_FOR_READING).')\s*\(/i', self::bare($sql, true), $function) === 1) {
            throw QueryRefused::because('The function '.strtolower($function[1]).' has no use in reading, and is not possible here.');
        }
        if (preg_match('/\bfor\s+update\b|\block\s+in\s+share\s+mode\b/i', $bare) === 1) {
            throw QueryRefused::because('Rows cannot be locked here: kept tables are changed by their source only.');
        }
        if ($first === 'show' && preg_match(self::SHOWN, ltrim($bare)) !== 1) {
            throw QueryRefused::because('Only what belongs to tables can be shown: tables, columns, index, create table, table status.');
        }
        if ($first === 'explain' && preg_match('/^\s*explain\s+(?:extended\s+|partitions\s+|format\s*=\s*\w+\s+)*(insert|update|delete|replace|for)\b/i', $bare) === 1) {
            throw QueryRefused::because('Only reading statements can be explained.');
        }

        return rtrim($sql, "; \t\r\n");
    }

    /**
     * The statement with comments gone and the contents of strings left out.
     *
     * @param  bool  $names  whether quoted names stay, without their quotes
     */
    private static function bare(string $sql, bool $names = false): string
    {
        $pattern = '~(?<run>/\*(?:M?!).*?(?:\*/|\z))|(?<skip>/\*.*?(?:\*/|\z)|--(?=\s|\z)[^\n]*|#[^\n]*)|(?<name>`(?:[^`]++|``)*+(?:`|\z))|(?<text>\'(?:[^\'\\\\]++|\\\\.|\'\')*+(?:\'|\z)|"(?:[^"\\\\]++|\\\\.|"")*+(?:"|\z))~s';

        $bare = preg_replace_callback($pattern, static function (array $found) use ($names): string {
            if ($found['run'] !== '') {
                throw QueryRefused::because('Comments that the database would run (/*! … */) are not possible here.');
            }
            if (($found['name'] ?? '') !== '') {
                return $names ? ' '.trim($found['name'], '`') : "''";
            }

            return ($found['text'] ?? '') !== '' ? "''" : ' ';
        }, $sql);

        return $bare ?? throw QueryRefused::because('The statement cannot be read.');
    }
}
