<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal;

/**
 * Columns that are unique and never empty, alone or together, tested against all sampled records;
 * those that are named like keys before others.
 */
final readonly class KeyFinder
{
    private const NATURAL = '/(?:^|_)(?:id|uuid|guid|key|ref|reference|number|code|no|slug|iso|iban|isbn|sku|serial)\d*_?$/';

    private const PART = '/(?:^|_)(?:date|day|month|year|week|at|on|time|line|position|seq|sequence|index|version|door|language|lang|locale|currency|type|kind|country|house|role)_?$/';

    private const MOST_TOGETHER = 3;

    /**
     * @param  list<array<string, mixed>>  $columns  of a source file, with their names
     * @param  array<string, RecordField>  $fields  by the path of those columns
     * @param  list<mixed>  $records
     * @param  string  $one  what one record of the table is called
     * @return array{list<string>, string} names of the columns, and why
     */
    public function find(array $columns, array $fields, array $records, string $one = ''): array
    {
        $count = count($records);
        if ($count === 0) {
            return [[], 'there are no records yet'];
        }
        $ranked = [];
        $parts = [];
        foreach ($columns as $order => $column) {
            $field = $fields[$column['from'] ?? ''] ?? null;
            $isUsable = $field !== null && $field->isScalar() && in_array($column['type'] ?? 'text', ['integer', 'text', 'uuid', 'date', 'datetime'], true) && ! isset($column['many']);
            if (! $isUsable || $field->stats()->filled < $count || $field->stats()->emptyTexts > 0 || $field->stats()->longest > 255) {
                continue;
            }
            $name = (string) $column['name'];
            $isNatural = preg_match(self::NATURAL, $name) === 1 || $name === $one;
            // Codes are keys whatever they are called: as long as each other, in capitals and digits.
            $isCode = ! $isNatural && $count >= 20 && $field->stats()->longest <= 12 && count(array_unique(array_map(strlen(...), array_slice($field->stats()->texts(), 0, 500)))) === 1 && $field->stats()->allMatch('/^[A-Z0-9][A-Z0-9._-]*$/D');
            if ($isCode && $field->stats()->isKey($count)) {
                $ranked[] = [50, $order, $name];
            }
            if ($isNatural && $field->stats()->isKey($count)) {
                $ranked[] = [$name === 'id' || $name === $one ? 0 : 1 + substr_count(trim($name, '_'), '_'), $order, $name];
            }
            if ($isNatural || preg_match(self::PART, $name) === 1) {
                $parts[] = [$isNatural ? 0 : 1, $order, $name, (string) $column['from']];
            }
        }
        if ($ranked !== []) {
            sort($ranked);

            return [[$ranked[0][2]], $count === 1 ? 'named like a key; one record proves nothing yet' : 'unique and never empty in '.number_format($count, 0, '.', ' ').' records'];
        }
        sort($parts);

        return $count < 2 ? [[], 'one record proves no key'] : $this->together(array_slice($parts, 0, 8), $records);
    }

    /**
     * @param  list<array{int, int, string, string}>  $parts
     * @param  list<mixed>  $records
     * @return array{list<string>, string}
     */
    private function together(array $parts, array $records): array
    {
        $values = [];
        foreach ($parts as [, , , $path]) {
            $parsed = \DeepSpring\Answer\JsonPath\JsonPath::parse($path);
            $values[] = array_map(static fn (mixed $record): string => (string) json_encode($parsed->values($record)[0] ?? null), $records);
        }
        for ($size = 2; $size <= self::MOST_TOGETHER; $size++) {
            foreach (self::combinations(count($parts), $size) as $chosen) {
                // At least one of them has to name something, or any two times would do.
                if (array_filter($chosen, static fn (int $one): bool => $parts[$one][0] === 0) === []) {
                    continue;
                }
                $seen = [];
                foreach (array_keys($records) as $record) {
                    $key = implode("\0", array_map(static fn (int $one): string => $values[$one][$record], $chosen));
                    if (isset($seen[$key])) {
                        continue 2;
                    }
                    $seen[$key] = true;
                }
                usort($chosen, static fn (int $a, int $b): int => $parts[$a][1] <=> $parts[$b][1]);

                return [array_map(static fn (int $one): string => $parts[$one][2], $chosen), 'together unique and never empty in '.number_format(count($records), 0, '.', ' ').' records'];
            }
        }

        return [[], 'no column, and no few of them together, is unique and never empty'];
    }

    /**
     * @return list<list<int>>
     */
    private static function combinations(int $of, int $size, int $from = 0): array
    {
        if ($size === 0) {
            return [[]];
        }
        $all = [];
        for ($first = $from; $first <= $of - $size; $first++) {
            foreach (self::combinations($of, $size - 1, $first + 1) as $rest) {
                $all[] = [$first, ...$rest];
            }
        }

        return $all;
    }
}
