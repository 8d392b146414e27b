<?php

declare(strict_types=1);

namespace App\Queries\Keeping;

use App\Models\QueryKeep;
use App\Models\Run;
use App\Queries\QueryRefused;
use App\Queries\QueryRunner;
use App\Queries\ResultColumn;
use App\Queries\StatementValues;
use App\Reservoir\KeepFailed;
use App\Runs\Statements;
use DeepSpring\Value\SafeNames;

/**
 * Statements of saved queries, as their owners.
 */
final readonly class KeptStatements implements Statements
{
    public function __construct(private QueryRunner $runner)
    {
    }

    public function rows(Run $run, array $columns): \Generator
    {
        $keep = QueryKeep::query()->with('savedQuery.user')->where('source_id', $run->endpoint->source_id)->first() ?? throw KeepFailed::because('The query is gone.');
        try {
            $said = $keep->said();
            $sql = StatementValues::bound($said->sql, $said->parameters ?? [], [], $keep->savedQuery->user)->sql;
            $open = $this->runner->stream($keep->savedQuery->user, $run->environment, $sql, (int) config('spring.query.keep_seconds'));
            $given = SafeNames::all(array_map(static fn (ResultColumn $column): string => $column->name, $open->columns));
            if ($given !== $columns) {
                throw KeepFailed::because('The query gives other columns now than when it was kept: '.self::difference($columns, $given).'. Save it again, and the table takes them over; until then its rows stay as they are.');
            }
            yield from $open->rows;
        } catch (QueryRefused $refused) {
            throw KeepFailed::because($refused->getMessage(), $refused);
        }
    }

    /**
     * @param  list<string>  $kept
     * @param  list<string>  $given
     */
    private static function difference(array $kept, array $given): string
    {
        [$gone, $new] = [array_values(array_diff($kept, $given)), array_values(array_diff($given, $kept))];

        return match (true) {
            $gone !== [] && $new !== [] => implode(', ', $gone).' not any more, '.implode(', ', $new).' instead or besides',
            $gone !== [] => implode(', ', $gone).' not any more',
            $new !== [] => implode(', ', $new).' besides',
            default => 'the same ones in another order',
        };
    }
}
