<?php

declare(strict_types=1);

namespace App\Queries\Keeping;

use App\Models\KeptTable;
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
            $narrowed = $this->narrowed($keep, $run);
            $seconds = (int) config('spring.query.keep_seconds');
            $open = $this->runner->stream($keep->savedQuery->user, $run->environment, $narrowed === null ? $sql : $narrowed[0]->narrowed($sql, $narrowed[1]), $seconds);
            $given = SafeNames::all(array_map(static fn (ResultColumn $column): string => $column->name, $open->columns));
            if ($given !== $columns) {
                throw KeepFailed::because('The query gives other columns now than when it was kept: '.self::difference($columns, $given).'. Save it again, and the table takes them over; until then its rows stay as they are.');
            }
            if ($narrowed !== null) {
                yield from $this->runner->stream($keep->savedQuery->user, $run->environment, $narrowed[0]->rest($keep->name, $columns, $narrowed[1]), $seconds)->rows;
            }
            yield from $open->rows;
        } catch (QueryRefused $refused) {
            throw KeepFailed::because($refused->getMessage(), $refused);
        }
    }

    public function period(Run $run): ?string
    {
        $keep = QueryKeep::query()->where('source_id', $run->endpoint->source_id)->first();
        $period = $keep === null ? null : $this->narrowed($keep, $run);

        return $period === null ? null : $period[0]->words($period[1]);
    }

    /**
     * The period that is read anew, and from when on. Null where all rows are: since there are none, since the query says
     * something else now, or by wish.
     *
     * @return array{KeptPeriod, string}|null
     */
    private function narrowed(QueryKeep $keep, Run $run): ?array
    {
        $there = $keep->period === null || $run->whole ? null : KeptTable::query()->where(['environment_id' => $run->environment_id, 'name' => $keep->name])->first();
        $last = $there?->run_id === null ? null : Run::query()->find($there->run_id);
        if ($keep->period === null || $last?->started_at === null || $last->version !== $run->version) {
            return null;
        }
        $period = KeptPeriod::of($keep->period);

        return [$period, $period->since($last->started_at->toDateTimeImmutable())];
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
