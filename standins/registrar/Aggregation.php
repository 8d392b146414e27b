<?php

declare(strict_types=1);

namespace StandIns\Registrar;

/**
 * `$apply` as far as it goes here: filter(…)/groupby((A,B),aggregate(C with sum as D,$count as E)), or
 * aggregate(…) alone.
 */
final readonly class Aggregation
{
    public function __construct(private Collection $collection)
    {
    }

    /**
     * @return list<array<string, mixed>>
     */
    public function of(string $set, string $apply): array
    {
        $records = array_values($this->collection->all($set));
        if (preg_match('~^filter\((.*?)\)/(?=groupby|aggregate)~s', $apply, $part) === 1) {
            $records = (new Records($this->collection, false))->filtered($records, $set, $part[1]);
            $apply = substr($apply, strlen($part[0]));
        }
        if (preg_match('/^groupby\(\(([^()]*)\)(?:,aggregate\((.*)\))?\)$/sD', $apply, $part) === 1) {
            $groups = [];
            $names = array_map(trim(...), explode(',', $part[1]));
            foreach ($records as $record) {
                $values = array_map(static fn (string $name): mixed => array_key_exists($name, $record) ? $record[$name] : throw new Refusal(400, 'UnknownProperty', "Cannot group by '$name'.", $name), $names);
                $groups[serialize($values)]['by'] = array_combine($names, $values);
                $groups[serialize($values)]['of'][] = $record;
            }

            return array_values(array_map(fn (array $group): array => $group['by'] + $this->aggregated($group['of'], $part[2] ?? ''), $groups));
        }
        if (preg_match('/^aggregate\((.*)\)$/sD', $apply, $part) === 1) {
            return [$this->aggregated($records, $part[1])];
        }
        throw new Refusal(501, 'NotImplemented', "The transformation '$apply' is not supported.");
    }

    /**
     * @param  list<array<string, mixed>>  $records
     * @return array<string, mixed>
     */
    private function aggregated(array $records, string $list): array
    {
        $result = [];
        foreach (array_filter(array_map(trim(...), explode(',', $list))) as $one) {
            if (preg_match('/^\$count as (\w+)$/D', $one, $part) === 1) {
                $result[$part[1]] = count($records);
            } elseif (preg_match('/^(\w+) with (sum|min|max|average|countdistinct) as (\w+)$/D', $one, $part) === 1) {
                $values = array_filter(array_column($records, $part[1]), static fn (mixed $value): bool => $value !== null);
                $result[$part[3]] = match ($part[2]) {
                    'sum' => round(array_sum(array_map(floatval(...), $values)), 2), 'min' => $values === [] ? null : min($values), 'max' => $values === [] ? null : max($values),
                    'average' => $values === [] ? null : array_sum(array_map(floatval(...), $values)) / count($values), default => count(array_unique($values)),
                };
            } else {
                throw new Refusal(400, 'BadApply', "'$one' is not understood.");
            }
        }

        return $result;
    }
}
