<?php

declare(strict_types=1);

namespace App\Queries\Results;

use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\QueryResult;
use App\Models\User;
use App\Queries\OpenResult;
use App\Queries\QueryRefused;
use App\Queries\QueryRunner;
use App\Queries\Result;
use App\Queries\ResultColumn;
use App\Queries\StatementLog;
use App\Schedules\AskedRefreshes;
use DeepSpring\Export\ExportType;
use Illuminate\Support\Carbon;

/**
 * What statements gave, kept for whoever asked: the first rows of one that took a while, so that it need not
 * run again while nothing beneath it has changed, and all rows where somebody looks beyond the first ones.
 */
final readonly class KeptResults
{
    /** Rows between two looks at whether somebody wants it stopped. */
    private const LOOK = 5000;

    public function __construct(private QueryRunner $runner, private AskedRefreshes $asked, private StatementLog $statements)
    {
    }

    /**
     * A result that would be the same now.
     */
    public function find(User $person, Environment $environment, string $sql, ?ResultOrder $order = null, bool $whole = false): ?QueryResult
    {
        $result = QueryResult::query()->where(['user_id' => $person->id, 'environment_id' => $environment->id, 'mark' => self::mark($sql, $order)])
            ->when($whole, static fn ($query) => $query->where('whole', true))->latest('id')->first();
        if ($result === null || $result->reads !== TablesBeneath::of($environment, $sql)) {
            return null;
        }
        if ($this->asked->of($environment, array_map(strval(...), array_keys($result->reads)), 0.0) !== []) {
            return null;
        }
        $result->update(['used_at' => Carbon::now()]);

        return $result;
    }

    /**
     * One of the person's own.
     */
    public function byId(User $person, Environment $environment, int $id): ?QueryResult
    {
        return QueryResult::query()->where(['user_id' => $person->id, 'environment_id' => $environment->id])->find($id);
    }

    /**
     * The first rows of a statement that was just run, where running it again would take a while.
     */
    public function keep(User $person, Environment $environment, string $sql, Result $result, Carbon $begun): void
    {
        if ($result->milliseconds < (int) config('spring.query.keeps_result_after') || $result->live !== []) {
            return;
        }
        $reads = TablesBeneath::of($environment, $sql);
        if ($reads === null || array_filter($result->reads, static fn (KeptTable $table): bool => ! $table->is_view && $table->refreshed_at->gte($begun)) !== []) {
            return;
        }
        $kept = $this->begin($person, $environment, self::mark($sql, null), $reads, $result->columns, $begun, ['milliseconds' => $result->milliseconds, 'tables' => $result->tables, 'indexes' => $result->indexes, 'cut' => $result->cutShort]);
        $rows = new ResultRows($kept);
        array_map($rows->add(...), $result->rows);
        $kept->whole = ! $result->cutShort;
        $rows->finish();
    }

    /**
     * What is shown of one that was kept.
     */
    public function shown(QueryResult $kept, Environment $environment): Result
    {
        return new Result(self::columns($kept), ResultRows::part($kept, 0), $kept->about['cut'] || $kept->rows > ResultRows::PART, $kept->about['milliseconds'], [], $kept->about['tables'], [],
            array_values(KeptTable::query()->where('environment_id', $environment->id)->whereIn('name', array_keys($kept->reads))->orderBy('name')->get(['name', 'rows', 'is_view', 'refreshed_at'])->all()), $kept->about['indexes'], $kept->read_at);
    }

    /**
     * All rows, up to a limit, sorted and searched by the database.
     *
     * @param  \Closure(int): bool  $progress  told how many rows there are; false stops it
     * @return QueryResult|null null when it was stopped
     *
     * @throws QueryRefused
     */
    public function all(User $person, Environment $environment, string $sql, ?ResultOrder $order, \Closure $progress): ?QueryResult
    {
        $found = $this->find($person, $environment, $sql, $order, true);
        if ($found !== null) {
            return $found;
        }
        $begun = Carbon::now();
        $reads = TablesBeneath::of($environment, $sql) ?? [];
        $columns = $order === null ? null : $this->columnsOf($person, $environment, $sql);
        $open = $this->runner->stream($person, $environment, $order === null || $columns === null ? $sql : $order->sql($sql, $columns), 10 * (int) config('spring.query.seconds'));
        $kept = $this->begin($person, $environment, self::mark($sql, $order), $reads, $columns ?? $open->columns, $begun, ['milliseconds' => 0, 'tables' => $open->plan === null ? [] : $this->statements->tables($environment, $open->plan), 'indexes' => $open->plan->indexes ?? [], 'cut' => false]);
        try {
            if (! $this->read($kept, $open, $progress)) {
                $kept->delete();

                return null;
            }
        } catch (\Throwable $failed) {
            $kept->delete();

            throw $failed;
        }
        // The same asked before and after: rows of a table that was put in place meanwhile belong to neither state.
        $kept->whole = $reads === (TablesBeneath::of($environment, $sql) ?? []);
        $kept->about = ['milliseconds' => (int) $begun->diffInMilliseconds(Carbon::now())] + $kept->about;
        $kept->save();

        return $kept;
    }

    /**
     * @param  \Closure(int): bool  $progress
     */
    private function read(QueryResult $kept, OpenResult $open, \Closure $progress): bool
    {
        $most = (int) config('spring.query.result_rows');
        $rows = new ResultRows($kept);
        $count = 0;
        foreach ($open->rows as $row) {
            if ($count === $most) {
                $kept->about = ['cut' => true] + $kept->about;

                break;
            }
            $rows->add($row);
            if (++$count % self::LOOK === 0 && ! $progress($count)) {
                return false;
            }
        }
        $rows->finish();

        return true;
    }

    /**
     * @return list<ResultColumn>
     *
     * @throws QueryRefused
     */
    private function columnsOf(User $person, Environment $environment, string $sql): array
    {
        $open = $this->runner->stream($person, $environment, $sql);
        // A generator that was never begun ends nothing.
        $open->rows->valid();

        return $open->columns;
    }

    /**
     * @param  array<string, string>  $reads
     * @param  list<ResultColumn>  $columns
     * @param  array{milliseconds: int, tables: list<string>, indexes: array<string, list<list<string>>>, cut: bool}  $about
     */
    private function begin(User $person, Environment $environment, string $mark, array $reads, array $columns, Carbon $begun, array $about): QueryResult
    {
        QueryResult::query()->where(['user_id' => $person->id, 'environment_id' => $environment->id, 'mark' => $mark])->delete();

        return QueryResult::query()->create(['user_id' => $person->id, 'environment_id' => $environment->id, 'mark' => $mark, 'reads' => $reads, 'about' => $about, 'rows' => 0, 'bytes' => 0, 'whole' => false, 'read_at' => $begun, 'used_at' => $begun,
            'columns' => array_map(static fn (ResultColumn $one): array => ['name' => $one->name, 'type' => $one->type->name, 'scale' => $one->scale, 'key' => $one->isKey], $columns)]);
    }

    /**
     * @return list<ResultColumn>
     */
    public static function columns(QueryResult $kept): array
    {
        $types = array_column(ExportType::cases(), null, 'name');

        return array_map(static fn (array $one): ResultColumn => new ResultColumn($one['name'], $types[$one['type']] ?? ExportType::Text, $one['scale'], $one['key']), $kept->columns);
    }

    private static function mark(string $sql, ?ResultOrder $order): string
    {
        return hash('sha256', $sql.($order === null ? '' : "\0".$order->text()));
    }

    /**
     * Those that nobody looked at for a day go, and the oldest while all of them take too much.
     *
     * @return int how many
     */
    public static function tidy(): int
    {
        $gone = QueryResult::query()->where('used_at', '<', Carbon::now()->subDay())->delete();
        while ((int) QueryResult::query()->sum('bytes') > (int) config('spring.query.results_bytes')) {
            $gone += QueryResult::query()->oldest('used_at')->limit(20)->delete();
        }

        return (int) $gone;
    }
}
