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

    /** Bytes of a hash. */
    private const HASH = 16;

    /** Records that are loaded at once, at least, where nothing has to be waited for. */
    private const WORTH = 2_000;

    /** Records that are loaded at once even so. */
    private const FULL = 16_000;

    public ?MergeCounts $counts = null;

    /** Records that were taken and are not being loaded yet. */
    private int $waiting = 0;

    /** @var (\Closure(CheckedRows): void)|null looks at the tables as they would be; what it throws leaves them as they were */
    public ?\Closure $look = null;

    public ?Environment $environment = null;

    /** @var array<array-key, string> hash of the key of each record that came → what says how new it is */
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
        $hashes = $this->hashes($batch->rows[0]);
        $states = $this->rule->newer === null ? array_fill(0, count($hashes), '') : array_map(strval(...), array_column($batch->rows[0], $this->rule->newer));
        $all = array_combine($hashes, $states);
        if (count($all) === count($hashes) && array_intersect_key($all, $this->newest) === []) {
            // All of them for the first time, as nearly always.
            $this->newest += $all;
            $this->refuseTooMany();

            return [$batch->rows[0], [], []];
        }

        return $this->compared($batch, $hashes, $page);
    }

    /**
     * What each row is known by.
     *
     * @param  list<list<string|null>>  $rows
     * @return list<string>
     */
    private function hashes(array $rows): array
    {
        if (count($this->rule->key[0]) > 1) {
            return array_map(fn (array $row): string => hash('xxh128', implode("\0", $this->keyOf($row, 0)), true), $rows);
        }

        // Shorter than a hash, a key stands for itself.
        return array_map(static fn (?string $key): string => isset($key[self::HASH - 1]) ? hash('xxh128', $key, true) : (string) $key, array_column($rows, $this->rule->key[0][0]));
    }

    /**
     * @param  list<string>  $hashes
     * @return array{list<list<string|null>>, array<string, true>, list<list<string>>}
     *
     * @throws TooManyChanges
     */
    private function compared(RowBatch $batch, array $hashes, int $page): array
    {
        $rows = $leftOut = $replaced = $here = [];
        foreach ($batch->rows[0] as $number => $row) {
            $key = $this->keyOf($row, 0);
            $hash = $hashes[$number];
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
        $this->refuseTooMany();

        return [$rows, $leftOut, $replaced];
    }

    /**
     * @throws TooManyChanges
     */
    private function refuseTooMany(): void
    {
        if (count($this->newest) > self::MOST) {
            throw TooManyChanges::because('more than '.self::MOST.' records changed');
        }
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
        return $this->waiting >= self::FULL || $this->staged->isDue($this->waiting >= self::WORTH);
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
