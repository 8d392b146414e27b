<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

/**
 * A lookup: inputs whose values come from the rows of a table, so that there is one request for each row. Under
 * `keep.inputs` of a source file such an input is `{from: {table: loans, column: consignment}}`, or
 * `{from: {table: loans, text: "{house}-{ref}"}}` where several columns make it.
 */
final readonly class RowInputs
{
    /**
     * @param  array<string, array{column?: string, text?: string}>  $bound  by input
     */
    private function __construct(public string $table, public array $bound)
    {
    }

    public static function isOne(mixed $value): bool
    {
        return is_array($value) && isset($value['from']) && is_array($value['from']);
    }

    /**
     * @param  array<string, mixed>  $inputs  `keep.inputs`
     * @return self|null null where no input comes from rows
     *
     * @throws InvalidInput where it cannot be done so
     */
    public static function of(array $inputs): ?self
    {
        $table = null;
        $bound = [];
        foreach ($inputs as $name => $value) {
            if (! self::isOne($value)) {
                continue;
            }
            $from = $value['from'];
            $table ??= $from['table'];
            if ($from['table'] !== $table) {
                throw InvalidInput::because((string) $name, "comes from the table {$from['table']}, and another input from $table: all that come from rows come from the same row");
            }
            if (isset($from['column']) === isset($from['text'])) {
                throw InvalidInput::because((string) $name, 'needs the column it comes from, or a text with columns in it: column: town, or text: "{house}-{ref}"');
            }
            $bound[(string) $name] = array_intersect_key($from, ['column' => 1, 'text' => 1]);
            if (self::columnsOf($bound[(string) $name]) === []) {
                throw InvalidInput::because((string) $name, "has no column in \"{$from['text']}\": write {name} where its value goes");
            }
        }
        foreach ($table === null ? [] : $inputs as $name => $value) {
            if (! self::isOne($value) && is_array($value) && count($value) > 1) {
                throw InvalidInput::because((string) $name, "has several values, and $table has rows: one of them can make several readings, not both");
            }
        }

        return $table === null ? null : new self($table, $bound);
    }

    /**
     * Columns of the table that are needed.
     *
     * @return list<string>
     */
    public function columns(): array
    {
        return array_values(array_unique(array_merge(...array_values(array_map(self::columnsOf(...), $this->bound)))));
    }

    /**
     * @param  array<string, string|null>  $row  values as they are written, by column
     * @return array<string, list<string>>|null by input; null where the row has nothing to ask with
     */
    public function values(array $row): ?array
    {
        $values = [];
        foreach ($this->bound as $name => $from) {
            foreach (self::columnsOf($from) as $column) {
                if (($row[$column] ?? '') === '') {
                    return null;
                }
            }
            $values[$name] = [isset($from['column']) ? (string) $row[$from['column']] : (string) preg_replace_callback('/\{([^{}]+)\}/', static fn (array $part): string => (string) ($row[$part[1]] ?? ''), $from['text'] ?? '')];
        }

        return $values;
    }

    /**
     * A value of the database as an API is usually sent it.
     *
     * @param  string  $type  of a source file
     */
    public static function written(?string $value, string $type): ?string
    {
        return match (true) {
            $value === null => null,
            // To the fraction of a second that there is.
            $type === 'datetime' => str_replace(' ', 'T', str_contains($value, '.') ? rtrim(rtrim($value, '0'), '.') : $value).'Z',
            $type === 'boolean' => $value === '1' ? 'true' : 'false',
            $type === 'decimal' && str_contains($value, '.') => rtrim(rtrim($value, '0'), '.'),
            default => $value,
        };
    }

    /**
     * "one request for each row of loans: number = consignment"
     */
    public function words(): string
    {
        return "one request for each row of $this->table: ".implode(', ', array_map(static fn (string $name, array $from): string => "$name = ".($from['column'] ?? $from['text'] ?? ''), array_keys($this->bound), $this->bound));
    }

    /**
     * @param  array{column?: string, text?: string}  $from
     * @return list<string>
     */
    private static function columnsOf(array $from): array
    {
        if (isset($from['column'])) {
            return [$from['column']];
        }
        preg_match_all('/\{([^{}]+)\}/', $from['text'] ?? '', $found);

        return $found[1];
    }
}
