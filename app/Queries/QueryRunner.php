<?php

declare(strict_types=1);

namespace App\Queries;

use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Principal;
use App\Models\QueryRun;
use App\Models\SavedQuery;
use App\Queries\Live\LiveQuery;
use App\Queries\Live\LiveReader;
use App\Reservoir\ReaderAccounts;
use App\Reservoir\StatementPlan;
use App\Reservoir\StatementPlans;
use App\Schedules\AskedRefreshes;
use DeepSpring\Sql\NamedTables;

/**
 * Runs one reading statement as the person's own account of the database.
 */
final class QueryRunner
{
    public function __construct(private readonly ReaderAccounts $accounts, private readonly LiveReader $live, private readonly StatementPlans $plans, private readonly StatementLog $statements, private readonly AskedRefreshes $asked, private readonly RunningStatements $running, private readonly ViewOwners $owners)
    {
    }

    /**
     * The first rows, and a line of history.
     *
     * @throws QueryRefused
     */
    public function run(Principal $principal, Environment $environment, string $sql, ?SavedQuery $query = null): Result
    {
        $most = (int) config('spring.query.rows');
        $begun = microtime(true);
        $rows = [];
        $cut = false;
        try {
            $open = $this->stream($principal, $environment, $sql);
            foreach ($open->rows as $row) {
                if (count($rows) === $most) {
                    $cut = true;

                    break;
                }
                $rows[] = $row;
            }
        } catch (QueryRefused $refused) {
            $this->remember($principal, $environment, $sql, $query, null, $begun, $refused->getMessage());

            throw $refused;
        }
        $this->remember($principal, $environment, $sql, $query, count($rows), $begun, null);

        return new Result($open->columns, $rows, $cut, (int) round(1000 * (microtime(true) - $begun)), $open->live, $open->plan === null ? [] : $this->statements->tables($environment, $open->plan), $open->asked, $this->reads($environment, $sql), $open->plan->indexes ?? [], null, $open->looked->rows);
    }

    /**
     * @return list<KeptTable> as the statement names them
     */
    private function reads(Environment $environment, string $sql): array
    {
        $named = NamedTables::names($sql);

        return $named === [] ? [] : array_values(KeptTable::query()->where('environment_id', $environment->id)->whereIn('name', $named)->orderBy('name')->get(['name', 'rows', 'is_view', 'refreshed_at'])->all());
    }

    /**
     * All rows, one at a time as the database gives them.
     *
     * @throws QueryRefused
     */
    public function stream(Principal $principal, Environment $environment, string $sql, ?int $seconds = null): OpenResult
    {
        $sql = SqlGuard::checked($sql);
        $this->owners->align($environment, NamedTables::names($sql));
        $live = $this->live->prepare($principal, $environment, $sql);
        $seconds ??= (int) config('spring.query.seconds');
        $pdo = $this->accounts->connect($principal, $environment, $seconds, $live->granted ?? []);
        $plan = $this->plans->of($pdo, $environment, $live->sql ?? $sql);
        $asked = $this->asked->of($environment, $plan->tables ?? [], (float) config('spring.query.fresh_seconds'));
        $begun = hrtime(true);
        try {
            $this->running->begins($pdo);
            $statement = $pdo->query($live->sql ?? $sql);
        } catch (\PDOException $exception) {
            $this->end($live, $principal, $environment);
            $this->statements->note($environment, $plan, self::since($begun));

            throw QueryRefused::at(QueryFault::of($exception, $environment, $sql, $seconds), $exception);
        } catch (QueryRefused $stopped) {
            $this->end($live, $principal, $environment);

            throw $stopped;
        }
        if ($statement === false) {
            throw QueryRefused::because('The database gave no result.');
        }
        $columns = [];
        for ($place = 0; $place < $statement->columnCount(); $place++) {
            $columns[] = ResultColumn::fromMeta((array) $statement->getColumnMeta($place));
        }

        $looked = new LookedAt;

        return new OpenResult($columns, $this->rows($pdo, $statement, $principal, $environment, $sql, $live, $plan, $begun, $seconds, $looked), $live->results ?? [], $plan, $asked, $looked);
    }

    /**
     * @return \Generator<int, list<string|null>>
     */
    private function rows(\PDO $pdo, \PDOStatement $statement, Principal $principal, Environment $environment, string $sql, ?LiveQuery $live, ?StatementPlan $plan, int $begun, int $seconds, LookedAt $looked): \Generator
    {
        $done = false;
        try {
            while (($row = $statement->fetch(\PDO::FETCH_NUM)) !== false) {
                yield $row;
            }
            $done = true;
            $looked->count($pdo);
        } catch (\PDOException $exception) {
            $done = true;

            throw QueryRefused::at(QueryFault::of($exception, $environment, $sql, $seconds), $exception);
        } finally {
            if (! $done) {
                // Rows nobody wants would still be sent: end the statement at the database.
                $this->accounts->abandon($pdo);
            }
            unset($statement);
            $this->end($live, $principal, $environment);
            $this->statements->note($environment, $plan, self::since($begun));
        }
    }

    /**
     * @return int milliseconds
     */
    private static function since(int $begun): int
    {
        return (int) round((hrtime(true) - $begun) / 1e6);
    }

    /**
     * The tables that were there for one query go, and the right to read them.
     */
    private function end(?LiveQuery $live, Principal $principal, Environment $environment): void
    {
        if ($live !== null) {
            $live->end();
            $this->accounts->withdraw($principal, $environment, $live->granted);
        }
    }

    private function remember(Principal $principal, Environment $environment, string $sql, ?SavedQuery $query, ?int $rows, float $begun, ?string $error): void
    {
        QueryRun::query()->create([
            'user_id' => $principal->person()?->id, 'environment_id' => $environment->id, 'query_id' => $query?->id, 'sql' => mb_strcut($sql, 0, (int) config('spring.query.history_bytes'), 'UTF-8'),
            'rows' => $rows, 'milliseconds' => (int) round(1000 * (microtime(true) - $begun)), 'error' => $error,
        ]);
    }
}
