<?php

declare(strict_types=1);

namespace DeepSpring\Indexing;

use DeepSpring\Value\Phrase;

/**
 * Indexes that would help, with the reason for each. The columns of one stand in the order in which a
 * B-tree is searched: values that are known first, then bounds, groups or an order.
 */
final class IndexAdvice
{
    /** Rows below which reading all of them is as quick. */
    public const ROWS = 1000;

    /** Milliseconds that a statement takes, in the middle, below which nothing is proposed for it. */
    public const MILLISECONDS = 20;

    /** Most columns of one index. */
    private const COLUMNS = 4;

    /** Where more than this part of the rows is found, reading all of them is as quick. */
    private const SHARE = 0.2;

    /** Most proposals for one table. */
    private const MOST = 6;

    /**
     * @param  list<UseCount>  $uses
     * @param  list<TableTie>  $ties
     * @return list<IndexProposal> what took longest first
     */
    public static function of(TableFacts $facts, array $uses, array $ties): array
    {
        if ($facts->rows < self::ROWS) {
            return [];
        }
        $found = self::used($facts, $uses);
        foreach ($ties as $tie) {
            if ($facts->can($tie->columns) && $facts->share($tie->columns) <= self::SHARE) {
                $found[] = new IndexProposal($facts->name, $tie->columns, [self::tied($tie)]);
            }
        }

        return array_slice(self::merged(array_values(array_filter($found, static fn (IndexProposal $one): bool => ! self::isThere($one, $facts)))), 0, self::MOST);
    }

    /**
     * What is proposed for the same reason is said once.
     *
     * @param  list<UseCount>  $uses
     * @return list<IndexProposal>
     */
    private static function used(TableFacts $facts, array $uses): array
    {
        $alike = [];
        foreach ($uses as $use) {
            foreach ($use->middle() < self::MILLISECONDS ? [] : self::candidates($use->use, $facts) as [$columns, $why, $endsWithKey]) {
                $one = $alike[implode("\0", $columns).$why] ?? ['columns' => $columns, 'why' => $why, 'endsWithKey' => $endsWithKey, 'times' => 0, 'milliseconds' => 0];
                $one['times'] += $use->times;
                $one['milliseconds'] += $use->milliseconds;
                $alike[implode("\0", $columns).$why] = $one;
            }
        }

        return array_values(array_map(static fn (array $one): IndexProposal => new IndexProposal(
            $facts->name, $one['columns'], [Phrase::count($one['times'], 'statement').', '.Phrase::duration($one['milliseconds']).($one['times'] === 1 ? '' : ' together').": {$one['why']}."], $one['times'], $one['milliseconds'], $one['endsWithKey'],
        ), $alike));
    }

    /**
     * @return list<array{list<string>, string, bool}> columns, why, and whether the key has to follow
     */
    private static function candidates(TableUse $use, TableFacts $facts): array
    {
        $found = [];
        $equal = self::unique($use->equal);
        $then = array_slice($use->range, 0, 1) ?: ($use->sorted ?: $use->grouped);
        $columns = self::unique([...$equal, ...$then]);
        if ($equal !== [] || $use->range !== []) {
            // What is compared with bounds is not known to be few rows; whether the index serves is seen when it is there.
            if ($facts->can($columns) && ($equal === [] || $facts->share($equal) <= self::SHARE)) {
                $found[] = [$columns, self::compared($equal, $use, $columns)];
            }
        } elseif ($use->joined === [] && $use->sorted !== [] && $facts->can($use->sorted)) {
            $found[] = [self::unique($use->sorted), 'they sort by '.self::listed($use->sorted)];
        }
        foreach ($use->joined as $joined) {
            $columns = self::unique([...$joined, ...$equal]);
            if ($facts->can($columns) && $facts->share($joined) <= self::SHARE && ! self::begins($facts->key, $joined)) {
                $why = 'they match rows with another table by '.self::listed($joined);
                // Where all rows are matched, each would be read for what else is asked of it.
                $all = self::unique([...$columns, ...$use->grouped, ...$use->read]);
                $isAll = $equal === [] && $use->range === [] && $all !== $columns && count($all) <= self::COLUMNS && $facts->can($all) && $facts->isWhole($all);
                $found[] = $isAll ? [$all, "$why, and all that they ask stands in the index"] : [$columns, $why];
            }
        }
        if ($found === [] && $use->grouped !== []) {
            // All that is asked stands in the index, so the rows themselves need not be read.
            $columns = self::unique([...$equal, ...$use->grouped, ...$use->read]);
            if (count($columns) <= self::COLUMNS && $facts->can($columns) && $facts->isWhole($columns)) {
                $found[] = [$columns, 'they group by '.self::listed($use->grouped).', and all that they ask stands in the index'];
            }
        }

        return array_map(static function (array $one) use ($facts): array {
            $columns = array_slice($one[0], 0, self::COLUMNS);
            $short = self::withoutKey($columns, $facts->key);

            return [$short, $one[1], $short !== $columns];
        }, $found);
    }

    /**
     * Every index ends with the key by itself.
     *
     * @param  list<string>  $columns
     * @param  list<string>  $key
     * @return list<string>
     */
    private static function withoutKey(array $columns, array $key): array
    {
        for ($last = min(count($key), count($columns) - 1); $last > 0; $last--) {
            if (array_slice($columns, -$last) === array_slice($key, 0, $last)) {
                return array_slice($columns, 0, -$last);
            }
        }

        return $columns;
    }

    /**
     * @param  list<string>  $equal
     * @param  list<string>  $columns
     */
    private static function compared(array $equal, TableUse $use, array $columns): string
    {
        $parts = [];
        if ($equal !== []) {
            $parts[] = 'compare '.self::listed($equal).' with values';
        }
        if ($use->range !== []) {
            $parts[] = 'compare '.$use->range[0].' with bounds, which helps where few rows lie between them';
        } elseif ($use->sorted !== [] && array_intersect($use->sorted, $columns) !== []) {
            $parts[] = 'sort by '.self::listed($use->sorted);
        } elseif ($use->grouped !== []) {
            $parts[] = 'group by '.self::listed($use->grouped);
        }

        return 'they '.implode(' and ', $parts);
    }

    private static function tied(TableTie $tie): string
    {
        return $tie->isParent
            ? 'Its rows belong to those of '.$tie->other.' by '.self::listed($tie->columns).'.'
            : 'It can be joined with '.$tie->other.' by '.self::listed($tie->columns).', which is the key there.';
    }

    /**
     * Whether the key or an index serves it.
     */
    private static function isThere(IndexProposal $one, TableFacts $facts): bool
    {
        foreach ($facts->indexes as $there) {
            if ($one->isServedBy($there)) {
                return true;
            }
        }

        return self::begins($facts->key, $one->columns);
    }

    /**
     * One that is the beginning of another is served by that.
     *
     * @param  list<IndexProposal>  $found
     * @return list<IndexProposal>
     */
    private static function merged(array $found): array
    {
        usort($found, static fn (IndexProposal $one, IndexProposal $other): int => [count($other->columns), $other->endsWithKey] <=> [count($one->columns), $one->endsWithKey]);
        /** @var list<IndexProposal> $kept */
        $kept = [];
        foreach ($found as $one) {
            foreach ($kept as $place => $longer) {
                if ($one->isServedBy($longer->columns)) {
                    $kept[$place] = $longer->with($one);

                    continue 2;
                }
            }
            $kept[] = $one;
        }
        usort($kept, static fn (IndexProposal $one, IndexProposal $other): int => $other->milliseconds <=> $one->milliseconds);

        return $kept;
    }

    /**
     * @param  list<string>  $longer
     * @param  list<string>  $columns
     */
    private static function begins(array $longer, array $columns): bool
    {
        return array_slice($longer, 0, count($columns)) === $columns;
    }

    /**
     * @param  list<string>  $columns
     * @return list<string>
     */
    private static function unique(array $columns): array
    {
        return array_values(array_unique($columns));
    }

    /**
     * @param  list<string>  $columns
     */
    private static function listed(array $columns): string
    {
        return count($columns) < 2 ? implode('', $columns) : implode(', ', array_slice($columns, 0, -1)).' and '.$columns[count($columns) - 1];
    }
}
