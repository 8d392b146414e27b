<?php

declare(strict_types=1);

namespace StandIns\Registrar;

/**
 * Filtering, ordering and cutting of records.
 */
final readonly class Records
{
    public function __construct(private Collection $collection, private bool $isOld)
    {
    }

    /**
     * @param  array<array-key, array<string, mixed>>  $records
     * @return list<array<string, mixed>>
     */
    public function filtered(array $records, string $set, string $filter, string $search = ''): array
    {
        if (trim($filter) !== '') {
            $records = array_filter($records, FilterText::of($filter, $set, $this->collection, $this->isOld));
        }
        if ($search !== '') {
            $words = array_filter(preg_split('/\s+(?:AND\s+)?/', mb_strtolower(str_replace('"', '', $search))) ?: []);
            $records = array_filter($records, static function (array $record) use ($words): bool {
                $text = mb_strtolower(implode(' ', array_filter($record, is_string(...))));

                return array_filter($words, static fn (string $word): bool => ! str_contains($text, $word)) === [];
            });
        }

        return array_values($records);
    }

    /**
     * @param  list<array<string, mixed>>  $records
     * @return list<array<string, mixed>>
     */
    public function ordered(array $records, string $set, string $order): array
    {
        $by = [];
        foreach (array_filter(explode(',', $order), static fn (string $one): bool => trim($one) !== '') as $one) {
            [$path, $direction] = preg_split('/\s+/', trim($one)) + [1 => 'asc'];
            if ($path === 'Remarks' || $this->isOld && $path === 'Climate') {
                throw new Refusal(400, 'NotSortable', "The property '$path' cannot be used in the \$orderby query option.", $path);
            }
            if (! in_array($direction, ['asc', 'desc'], true)) {
                throw new Refusal(400, 'BadOrder', "'$direction' is no direction.");
            }
            // As a filter that compares with nothing, which also finds out whether the name is known.
            FilterText::of("$path eq null", $set, $this->collection, $this->isOld);
            $by[] = [explode('/', $path), $direction === 'desc' ? -1 : 1];
        }
        usort($records, function (array $a, array $b) use ($by, $set): int {
            foreach ($by as [$steps, $sign]) {
                [$left, $right] = [$this->at($a, $set, $steps), $this->at($b, $set, $steps)];
                $order = is_numeric($left) && is_numeric($right) ? (float) $left <=> (float) $right : (string) $left <=> (string) $right;
                if ($order !== 0) {
                    return $order * $sign;
                }
            }

            return 0;
        });

        return $records;
    }

    /**
     * @param  array<string, mixed>  $record
     * @param  list<string>  $steps
     */
    private function at(array $record, string $set, array $steps): mixed
    {
        foreach ($steps as $step) {
            if (isset(Collection::WAYS[$set][$step])) {
                $record = $this->collection->related($set, $record, $step)[0] ?? null;
                $set = Collection::WAYS[$set][$step][0];
            } else {
                $record = $record[$step] ?? null;
            }
            if (! is_array($record)) {
                return $record;
            }
        }

        return null;
    }
}
