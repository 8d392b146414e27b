<?php

declare(strict_types=1);

namespace App\View;

use App\Queries\ResultColumn;
use DeepSpring\Export\ExportType;

/**
 * Rows of a result as the grid of the page takes them: columns with what kind of values they hold, and
 * every value as the database gave it.
 */
final readonly class ResultGrid
{
    /** Characters of one value that go into the page; what is longer is asked for when it is opened. */
    private const LONGEST = 2000;

    /** Parts of names that numbers have which are none to be added up. */
    private const NO_AMOUNTS = ['id', 'ids', 'key', 'code', 'no', 'nr', 'number', 'ref', 'reference', 'year', 'week', 'yearweek', 'isoweek', 'weekofyear', 'month', 'quarter', 'day', 'dayofweek', 'dayofyear', 'weekday', 'hour', 'minute', 'zip', 'postcode', 'postal', 'phone', 'fax', 'account', 'serial', 'version', 'page', 'position', 'rank', 'place', 'port', 'crc32', 'unix', 'timestamp', 'epoch', 'uid', 'pin', 'row'];

    /**
     * @param  list<ResultColumn>  $columns
     * @param  list<list<string|null>>  $rows
     * @param  array<int, string>  $about  what is said of columns, by their place
     */
    public function __construct(private array $columns, private array $rows, private array $about = [])
    {
    }

    /**
     * @return array{columns: list<array{name: string, kind: string, about?: string}>, rows: list<list<string|null>>, cut: list<array{int, int, int}>} cut: row, column and bytes of values that are longer than what is here
     */
    public function data(): array
    {
        $columns = [];
        foreach ($this->columns as $place => $column) {
            $columns[] = ['name' => $column->name, 'kind' => $this->kind($column, array_column($this->rows, $place))] + (($this->about[$place] ?? '') === '' ? [] : ['about' => $this->about[$place]]);
        }
        $rows = $this->rows;
        $cut = [];
        foreach ($rows as $number => $row) {
            foreach ($row as $place => $value) {
                if ($value !== null && strlen($value) > self::LONGEST) {
                    $rows[$number][$place] = mb_strcut($value, 0, self::LONGEST, 'UTF-8');
                    $cut[] = [$number, $place, strlen($value)];
                }
            }
        }

        return ['columns' => $columns, 'rows' => $rows, 'cut' => $cut];
    }

    /**
     * Whether a picture can be drawn of it.
     */
    public function hasAmounts(): bool
    {
        return in_array('amount', array_column($this->data()['columns'], 'kind'), true);
    }

    public function json(): string
    {
        return (string) json_encode($this->data(), JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE | JSON_HEX_TAG | JSON_HEX_AMP);
    }

    /**
     * amount: digits in groups of three; number: as it is, at the right; moment: without zeros behind the second; text, json.
     *
     * @param  list<string|null>  $values
     */
    private function kind(ResultColumn $column, array $values): string
    {
        if ($column->isNumber) {
            return self::isAmount($column->name, $column->isKey, $values) ? 'amount' : 'number';
        }
        if ($column->type === ExportType::DateTime) {
            return 'moment';
        }
        foreach ($values as $value) {
            if ($value !== null && $value !== '') {
                return $column->isText && ($value[0] === '{' || $value[0] === '[') && json_decode($value) !== null ? 'json' : 'text';
            }
        }

        return 'text';
    }

    /**
     * Whether numbers of a column are amounts, and not names of something: keys, codes, years.
     *
     * @param  list<string|null>  $values
     */
    public static function isAmount(string $name, bool $isKey, array $values): bool
    {
        $words = preg_split('/[^A-Za-z0-9]+|(?<=[a-z])(?=[A-Z])/', $name, -1, PREG_SPLIT_NO_EMPTY) ?: [];
        if ($isKey || array_intersect(array_map(strtolower(...), $words), self::NO_AMOUNTS) !== []) {
            return false;
        }
        $whole = array_filter($values, static fn (?string $value): bool => $value !== null);
        $years = array_filter($whole, static fn (string $value): bool => preg_match('/^(?:19|20)\d\d$/D', $value) === 1);

        return $whole === [] || count($years) < count($whole);
    }
}
