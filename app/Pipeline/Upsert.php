<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Models\Environment;
use App\Reservoir\CheckedRows;
use App\Reservoir\MergeCounts;
use App\Reservoir\MergeRule;
use App\Reservoir\StagedTables;
use DeepSpring\Flatten\RowBatch;

/**
 * Records into the tables that are kept, told apart by the key of the main table: a record that is there gets its
 * new state, with its rows in the branch tables, and all others stay as they are. Of several states of a record the
 * newest counts, in whatever order they come.
 */
final class Upsert implements Sink
{
    use FillsStagedTables {
        take as private takeRows;
    }

    /** Records that are compared with each other. */
    private const MOST = 500_000;

    /** Records that are loaded at once, at least, while others are read. */
    private const WORTH = 8_000;

    public ?MergeCounts $counts = null;

    /** Records that were taken and are not being loaded yet. */
    private int $waiting = 0;

    /** @var (\Closure(CheckedRows): void)|null looks at the tables as they would be; what it throws leaves them as they were */
    public ?\Closure $look = null;

    public ?Environment $environment = null;

    /** @var array<string, string> hash of the key of each record that came → what says how new it is */
    private array $newest = [];

    public function __construct(StagedTables $staged, private readonly MergeRule $rule, int $run = 0, int $attempt = 1)
    {
        [$this->staged, $this->run, $this->attempt] = [$staged, $run, $attempt];
    }

    /**
     * @throws TooManyChanges
     */
    public function take(ReadPage $page, RowBatch $batch): void
    {
        [$rows, $leftOut, $replaced] = $this->sifted($batch, $page->number);
        if ($replaced !== []) {
            $this->staged->merge($this->rule)->takeBack($replaced);
        }
        if ($leftOut !== []) {
            $batch->rows = [$rows, ...$this->without($batch, $leftOut)];
        }
        $this->waiting += count($batch->rows[0]);
        $this->takeRows($page, $batch);
    }

    /**
     * @return array{list<list<string|null>>, array<string, true>, list<list<string>>} rows of the main table that count, keys of records that do not, keys of those that came before in an older state
     *
     * @throws TooManyChanges
     */
    private function sifted(RowBatch $batch, int $page): array
    {
        $rows = $leftOut = $replaced = $here = [];
        $single = count($this->rule->key[0]) === 1 ? $this->rule->key[0][0] : null;
        foreach ($batch->rows[0] as $row) {
            $key = $single === null ? $this->keyOf($row, 0) : [(string) $row[$single]];
            $hash = hash('xxh128', implode("\0", $key), true);
            $state = $this->rule->newer === null ? '' : (string) $row[$this->rule->newer];
            if (isset($here[$hash])) {
                throw TooManyChanges::because("page $page has two states of the record ".implode(', ', $key));
            }
            $here[$hash] = true;
            $before = $this->newest[$hash] ?? null;
            if ($before !== null && strcmp($state, $before) < 0) {
                $leftOut[implode("\0", $key)] = true;

                continue;
            }
            if ($before !== null) {
                $replaced[] = $key;
            }
            $this->newest[$hash] = $state;
            $rows[] = $row;
        }
        if (count($this->newest) > self::MOST) {
            throw TooManyChanges::because('more than '.self::MOST.' records changed');
        }

        return [$rows, $leftOut, $replaced];
    }

    /**
     * The rows of branch tables, without those of some records.
     *
     * @param  array<string, true>  $leftOut
     * @return list<list<list<string|null>>>
     */
    private function without(RowBatch $batch, array $leftOut): array
    {
        $tables = [];
        for ($number = 1; $number < count($batch->rows); $number++) {
            $tables[] = array_values(array_filter($batch->rows[$number], fn (array $row): bool => ! isset($leftOut[implode("\0", $this->keyOf($row, $number))])));
        }

        return $tables;
    }

    /**
     * @param  list<string|null>  $row
     * @return list<string>
     */
    private function keyOf(array $row, int $number): array
    {
        return array_map(static fn (int $place): string => (string) $row[$place], $this->rule->key[$number]);
    }

    /**
     * Nobody goes on from the middle of it, so rows are loaded as soon as there are enough of them to be worth it,
     * and while the next pages come.
     */
    public function isDue(): bool
    {
        return $this->waiting >= self::WORTH || $this->staged->isDue();
    }

    public function finish(array $state): void
    {
        // Nobody goes on from the middle of it: the changes are asked for again.
        $this->staged->commit(null);
        $this->staged->awaitLoading();
    }

    public function complete(): void
    {
        if (! $this->staged->isInPlace()) {
            $this->counts = $this->staged->merge($this->rule)->run($this->look, $this->environment);
        }
    }

    public function commit(?array $state): void
    {
        $this->waiting = 0;
        $this->staged->commit(null);
    }
}
