<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

/**
 * The part of a query that an input can say: a column compared with its value, an order, or a number of rows.
 */
final readonly class StandsFor
{
    public const OPERATORS = ['=', '<>', '<', '<=', '>', '>=', 'in', 'begins', 'contains'];

    /**
     * @param  string  $column  that is compared; empty for an order or a number of rows
     * @param  string  $operator  one of OPERATORS
     * @param  array<string, string>  $orders  "due" or "due desc" → the value that asks for it
     */
    private function __construct(public string $column, public string $operator, public array $orders, public bool $isRows)
    {
    }

    /**
     * @param  array<string, mixed>  $stands  valid by the schema
     */
    public static function of(array $stands): self
    {
        return new self($stands['column'] ?? '', $stands['operator'] ?? '=', array_map(strval(...), array_change_key_case($stands['order'] ?? [])), ($stands['rows'] ?? false) === true);
    }

    /**
     * Columns of the table that it speaks of, in lower case.
     *
     * @return list<string>
     */
    public function columns(): array
    {
        $ordered = array_map(static fn (int|string $order): string => (string) preg_replace('/ desc$/D', '', (string) $order), array_keys($this->orders));

        return array_values(array_unique($this->column === '' ? $ordered : [strtolower($this->column)]));
    }

    /**
     * As a person writes it in one field: `status =`, `due >=`, `title contains`, `rows`, or
     * `order due: due_at, due desc: -due_at`.
     *
     * @return array<string, mixed>|null for the source file; null for what says nothing of that
     */
    public static function read(string $text): ?array
    {
        $text = trim($text);
        if (strtolower($text) === 'rows') {
            return ['rows' => true];
        }
        if (preg_match('/^order\s+(.+)$/isD', $text, $found) === 1) {
            $orders = [];
            foreach (explode(',', $found[1]) as $one) {
                if (preg_match('/^\s*(\w+(?:\s+desc)?)\s*:\s*(\S.*?)\s*$/iD', $one, $part) !== 1) {
                    return null;
                }
                $orders[strtolower((string) preg_replace('/\s+/', ' ', $part[1]))] = $part[2];
            }

            return ['order' => $orders];
        }

        return preg_match('/^(\w+)\s*('.implode('|', array_map(static fn (string $one): string => preg_quote($one, '/'), ['<>', '<=', '>=', '=', '<', '>', 'in', 'begins', 'contains'])).')?$/iD', $text, $found) === 1
            ? ['column' => $found[1], 'operator' => strtolower($found[2] ?? '=')] : null;
    }

    /**
     * The same as somebody writes it.
     *
     * @param  array<string, mixed>|null  $stands
     */
    public static function text(?array $stands): string
    {
        return match (true) {
            $stands === null => '',
            isset($stands['rows']) => 'rows',
            isset($stands['order']) => 'order '.implode(', ', array_map(static fn (string|int $column, string $value): string => "$column: $value", array_keys($stands['order']), $stands['order'])),
            default => "{$stands['column']} {$stands['operator']}",
        };
    }
}
