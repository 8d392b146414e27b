<?php

declare(strict_types=1);

namespace App\Queries;

use App\Models\Environment;
use App\Models\KeptTable;
use App\Queries\Live\LiveTables;
use App\Reservoir\TableShape;
use DeepSpring\Sql\Nouns;
use DeepSpring\Sql\StatementFault;
use DeepSpring\Sql\StatementFaults;

/**
 * What the database says of a statement, in plain words.
 */
final class QueryFault
{
    /** Errors of a statement that took too long. */
    private const TOO_LONG = [1969, 3024];

    private const STOPPED = 1317;

    /**
     * @param  int|null  $seconds  that it was given; null for what a statement of a page is given
     */
    public static function of(\PDOException $exception, Environment $environment, string $sql, ?int $seconds = null): StatementFault
    {
        $number = (int) ($exception->errorInfo[1] ?? 0);
        if (in_array($number, self::TOO_LONG, true)) {
            $seconds ??= (int) config('spring.query.seconds');

            return new StatementFault("The query ran longer than $seconds s and was stopped. Narrow it with a condition, or join on key columns.");
        }

        if ($number === self::STOPPED) {
            return new StatementFault('The statement was stopped.');
        }

        return (new StatementFaults(self::nouns($environment), [$environment->schema()], $environment->name))->of($number, (string) ($exception->errorInfo[2] ?? $exception->getMessage()), $sql);
    }

    public static function nouns(Environment $environment): Nouns
    {
        $tables = [];
        foreach (KeptTable::query()->where('environment_id', $environment->id)->orderBy('name')->get(['name', 'columns']) as $table) {
            $tables[$table->name] = array_column($table->columns, 'name');
        }

        foreach ((new LiveTables)->of($environment) as $name => $live) {
            $tables[$name] ??= array_map(static fn ($column): string => $column->name, (new TableShape($live->plan->table))->columns);
        }

        return new Nouns($tables);
    }
}
