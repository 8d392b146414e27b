<?php

declare(strict_types=1);

namespace Bench;

/**
 * Loans with sixty fields in nested objects and a list of items: what a plan for them says, and the
 * code that somebody would write by hand for the same columns.
 */
final class WideLoans
{
    private const GROUPS = ['borrower', 'lender', 'courier', 'insurer', 'venue'];

    /** field → how it is made and what type it becomes */
    private const FIELDS = ['name' => 'text', 'code' => 'text', 'post_code' => 'text', 'count' => 'integer', 'fee' => 'decimal', 'since' => 'date', 'changed' => 'datetime', 'active' => 'boolean', 'ratio' => 'decimal', 'note' => 'text', 'rank' => 'integer'];

    public static function page(int $records): string
    {
        $data = [];
        for ($id = 1; $id <= $records; $id++) {
            $one = ['id' => $id, 'ref' => "NQ-$id", 'due' => gmdate('Y-m-d', 1893456000 + $id % 600 * 86400), 'created' => gmdate('Y-m-d\TH:i:s\Z', 1893456000 + $id * 61), 'open' => $id % 3 === 0];
            foreach (self::GROUPS as $number => $group) {
                $at = $id * 7 + $number;
                $one[$group] = ['name' => "House $at of the circle", 'code' => sprintf('%05d', $at % 40000), 'post_code' => sprintf('%05d', $at % 999), 'count' => $at % 1000, 'fee' => ($at * 37 % 900000) / 100, 'since' => gmdate('Y-m-d', 1893456000 + $at % 900 * 86400), 'changed' => gmdate('Y-m-d\TH:i:s\Z', 1893456000 + $at * 17), 'active' => $at % 2 === 0, 'ratio' => ($at % 500) / 1000, 'note' => $at % 4 === 0 ? null : 'Light below 50 lux, ring before delivery', 'rank' => $at % 12];
            }
            $one['items'] = array_map(static fn (int $line): array => ['number' => "$id.$line", 'title' => "Object $line of loan $id", 'value' => ($id * $line % 9000) / 100], range(1, 3));
            $data[] = $one;
        }

        return (string) json_encode(['data' => $data], JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES);
    }

    /**
     * @return array<string, mixed>
     */
    public static function flatten(): array
    {
        $columns = [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'ref', 'from' => '$.ref'], ['name' => 'due', 'from' => '$.due', 'type' => 'date'], ['name' => 'created', 'from' => '$.created', 'type' => 'datetime'], ['name' => 'open', 'from' => '$.open', 'type' => 'boolean']];
        foreach (self::GROUPS as $group) {
            foreach (self::FIELDS as $field => $type) {
                $columns[] = ['name' => "{$group}_$field", 'from' => "$.$group.$field", 'type' => $type] + ($type === 'decimal' ? ['scale' => 3] : []);
            }
        }

        return ['table' => 'wide', 'key' => ['id'], 'columns' => $columns, 'branches' => [['table' => 'wide_items', 'from' => '$.items[*]', 'key' => ['id', 'line'], 'columns' => [['name' => 'id', 'parent' => '$.id', 'type' => 'integer'], ['name' => 'line', 'position' => 1], ['name' => 'number', 'from' => '$.number'], ['name' => 'title', 'from' => '$.title'], ['name' => 'value', 'from' => '$.value', 'type' => 'decimal', 'scale' => 2]]]]];
    }

    /**
     * Written out as by hand: no check of any value, only the forms that a database wants.
     *
     * @return \Closure(string): array{list<list<mixed>>, list<list<mixed>>}
     */
    public static function byHand(): \Closure
    {
        $cells = ["\$one['id']", "\$one['ref']", "\$one['due']", "substr(\$one['created'], 0, 10).' '.substr(\$one['created'], 11, 8)", "\$one['open'] ? '1' : '0'"];
        foreach (self::GROUPS as $group) {
            foreach (self::FIELDS as $field => $type) {
                $read = "\$$group"."['$field']";
                $cells[] = match ($type) {
                    'datetime' => "substr($read, 0, 10).' '.substr($read, 11, 8)",
                    'boolean' => "$read ? '1' : '0'",
                    default => $read,
                };
            }
        }
        $groups = implode('', array_map(static fn (string $group): string => "\$$group = \$one['$group'];\n", self::GROUPS));

        return eval("return static function (string \$body): array {\n\$rows = \$items = [];\nforeach (json_decode(\$body, true)['data'] as \$one) {\n$groups\$rows[] = [".implode(', ', $cells)."];\n\$line = 0;\nforeach (\$one['items'] as \$item) { \$items[] = [\$one['id'], ++\$line, \$item['number'], \$item['title'], \$item['value']]; }\n}\nreturn [\$rows, \$items];\n};");
    }
}
