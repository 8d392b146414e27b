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
    private const READING = ['select', 'with', 'table', 'values', 'show', 'describe', 'desc', 'explain'];

    /**
     * @return string the statement without the semicolon at its end
     *
     * @throws QueryRefused
     */
    public static function checked(string $sql): string
    {
        $bare = self::bare($sql);
        if (trim($bare) === '') {
            throw QueryRefused::because('Write a query first, for example: select * from loans');
        }
        if (preg_match('/;\s*\S/', $bare) === 1) {
            throw QueryRefused::because('One statement at a time: there is something after the semicolon.');
        }
        $first = preg_match('/^[\s(]*([a-z]+)/i', $bare, $found) === 1 ? strtolower($found[1]) : '';
        if (! in_array($first, self::READING, true)) {
            throw QueryRefused::because('A query here starts with select or with; '.($first === '' ? 'this does not.' : "\"$first\" is not possible, kept tables are changed by their source only."));
        }
        if (preg_match('/\binto\s+(outfile|dumpfile|@)/i', $bare) === 1) {
            throw QueryRefused::because('A query cannot write to a file or a variable. Use the export below the result.');
        }
        if ($first === 'explain' && preg_match('/^\s*explain\s+(?:extended\s+|partitions\s+|format\s*=\s*\w+\s+)*(insert|update|delete|replace|for)\b/i', $bare) === 1) {
            throw QueryRefused::because('Only reading statements can be explained.');
        }

        return rtrim($sql, "; \t\r\n");
    }

    /**
     * The statement with comments gone and the contents of strings and quoted names left out.
     */
    private static function bare(string $sql): string
    {
        $pattern = '~(?<run>/\*(?:M?!).*?(?:\*/|\z))|(?<skip>/\*.*?(?:\*/|\z)|--(?=\s|\z)[^\n]*|#[^\n]*)|(?<text>\'(?:[^\'\\\\]|\\\\.|\'\')*(?:\'|\z)|"(?:[^"\\\\]|\\\\.|"")*(?:"|\z)|`(?:[^`]|``)*(?:`|\z))~s';

        return (string) preg_replace_callback($pattern, static function (array $found): string {
            if ($found['run'] !== '') {
                throw QueryRefused::because('Comments that the database would run (/*! … */) are not possible here.');
            }

            return ($found['text'] ?? '') !== '' ? "''" : ' ';
        }, $sql);
    }
}
