<?php

declare(strict_types=1);

namespace DeepSpring\Feed;

use DeepSpring\OData\ODataVersion;
use DeepSpring\OData\Url\InvalidOption;
use DeepSpring\OData\Url\NestedText;
use DeepSpring\Value\NearestName;

/**
 * `$apply` → statements of MariaDB within each other (OData Data Aggregation 4.0 §3): `filter`, `aggregate` and
 * `groupby`, one behind another.
 */
final readonly class ApplySql
{
    private const LONGEST = 8192;

    private const MOST = 10;

    /** §3.1.3 */
    private const METHODS = ['sum', 'min', 'max', 'average', 'countdistinct'];

    private const KNOWN = ['filter', 'aggregate', 'groupby', 'identity'];

    private const ELSEWHERE = ['concat', 'join', 'outerjoin', 'nest', 'search', 'compute', 'orderby', 'skip', 'top', 'topcount', 'topsum', 'toppercent', 'bottomcount', 'bottomsum', 'bottompercent', 'expand', 'addnested', 'ancestors', 'descendants', 'traverse', 'rollup', 'rolluprecursive', 'from', 'with'];

    /**
     * @param  array<string, string>  $aliases  values of parameters, by name with "@"
     */
    public function __construct(private \DateTimeImmutable $now, private array $aliases = [])
    {
    }

    /**
     * @throws CannotFilter
     */
    public function of(string $text, RowSource $source): RowSource
    {
        if (strlen($text) > self::LONGEST) {
            throw CannotFilter::because('$apply has at most '.self::LONGEST.' bytes.');
        }
        $steps = $this->split($text, '/');
        if (count($steps) > self::MOST) {
            throw CannotFilter::because('$apply has at most '.self::MOST.' steps.');
        }
        foreach ($steps as $step) {
            $source = $this->step($step, $source);
        }

        return $source;
    }

    /**
     * @throws CannotFilter
     */
    private function step(string $text, RowSource $source): RowSource
    {
        [$name, $inside] = $this->call($text);
        if ($name === 'identity' && $inside === null) {
            return $source;
        }
        if (in_array($name, self::ELSEWHERE, true)) {
            throw CannotFilter::notHere("$name in \$apply");
        }
        if (! in_array($name, self::KNOWN, true) || $inside === null) {
            $near = NearestName::to($name, self::KNOWN);
            throw CannotFilter::because($name === '' ? 'A step of $apply is empty.' : "\"$name\" is no step of \$apply".($near === null || $near === $name ? '; there are filter(…), aggregate(…) and groupby((…),…).' : "; $near(…) was probably meant."));
        }

        return match ($name) {
            'filter' => $this->filtered($inside, $source),
            'aggregate' => $this->grouped([], $this->split($inside, ','), $source),
            default => $this->groupBy($inside, $source),
        };
    }

    /**
     * @throws CannotFilter
     */
    private function filtered(string $inside, RowSource $source): RowSource
    {
        $condition = (new FilterSql($source->columns, ODataVersion::V4, $this->now, $this->aliases))->condition($inside);

        return new RowSource(new BoundSql("(SELECT * FROM {$source->sql->sql} WHERE $condition->sql) AS _rows", [...$source->sql->values, ...$condition->values]), $source->columns, $source->key);
    }

    /**
     * `(columns)` or `(columns),aggregate(…)`
     *
     * @throws CannotFilter
     */
    private function groupBy(string $inside, RowSource $source): RowSource
    {
        $parts = $this->split($inside, ',');
        [$before, $list] = $this->call($parts[0]);
        if ($before !== '' || $list === null || count($parts) > 2) {
            throw CannotFilter::because('groupby is written groupby((column,column),aggregate(…)).');
        }
        $columns = [];
        foreach ($this->split($list, ',') as $one) {
            if (str_contains($one, '(')) {
                throw CannotFilter::notHere("$one in groupby", null, 'rows are grouped by columns');
            }
            $column = $this->column($one, $source);
            if ($column->kind() === TermKind::Json) {
                throw CannotFilter::notHere('groupby by JSON');
            }
            $columns[$column->name] = $column;
        }
        if (isset($parts[1]) && count($this->split($parts[1], '/')) > 1) {
            throw CannotFilter::notHere('Several steps inside groupby', null, 'only aggregate(…) stands there; other steps go before it, with a slash between');
        }
        [$next, $items] = isset($parts[1]) ? $this->call($parts[1]) : ['aggregate', null];
        if ($next !== 'aggregate' || isset($parts[1]) && $items === null) {
            throw CannotFilter::notHere("$next inside groupby", null, 'only aggregate(…) stands there; other steps go before it, with a slash between');
        }

        return $this->grouped(array_values($columns), $items === null ? [] : $this->split($items, ','), $source);
    }

    /**
     * @param  list<FeedColumn>  $by
     * @param  list<string>  $items
     *
     * @throws CannotFilter
     */
    private function grouped(array $by, array $items, RowSource $source): RowSource
    {
        $columns = $by;
        $sql = array_map(static fn (FeedColumn $column): string => $column->sql(), $by);
        $names = array_fill_keys(array_map(static fn (FeedColumn $column): string => strtolower($column->name), $by), true);
        foreach ($items as $item) {
            [$column, $expression] = $this->aggregated($item, $source);
            if (isset($names[strtolower($column->name)])) {
                throw CannotFilter::because("Two columns of \$apply are called \"$column->name\".");
            }
            $names[strtolower($column->name)] = true;
            $columns[] = $column;
            $sql[] = "$expression AS {$column->sql()}";
        }
        $group = $by === [] ? '' : ' GROUP BY '.implode(', ', array_map(static fn (FeedColumn $column): string => $column->sql(), $by));
        // Rows of groups have no key: what they are grouped by may be empty.
        $loose = array_map(static fn (FeedColumn $column): FeedColumn => new FeedColumn($column->name, $column->type, $column->scale, false, $column->title, $column->unit, $column->about), $columns);
        $key = array_map(static fn (FeedColumn $column): OrderPart => new OrderPart($column), $by === [] ? array_slice($loose, 0, 1) : array_slice($loose, 0, count($by)));

        return new RowSource(new BoundSql('(SELECT '.implode(', ', $sql)." FROM {$source->sql->sql}$group) AS _groups", $source->sql->values), $loose, $key);
    }

    /**
     * `column with sum as name`, `$count as name`
     *
     * @return array{FeedColumn, string} and what the database computes
     *
     * @throws CannotFilter
     */
    private function aggregated(string $item, RowSource $source): array
    {
        if (preg_match('/^(?:(?<count>\$count)|(?<column>\S.*?)\s+with\s+(?<method>[\w.]+))\s+as\s+(?<name>[A-Za-z_]\w{0,63})$/D', $item, $part, PREG_UNMATCHED_AS_NULL) !== 1) {
            throw CannotFilter::because("\"$item\" is not written like fee with sum as fees, or \$count as rows.");
        }
        $name = (string) $part['name'];
        if ($part['count'] !== null) {
            return [new FeedColumn($name, 'integer'), 'COUNT(*)'];
        }
        $column = $this->column((string) $part['column'], $source);
        $method = strtolower((string) $part['method']);
        if (! in_array($method, self::METHODS, true)) {
            throw CannotFilter::notHere("The method {$part['method']}", null, 'there are '.implode(', ', self::METHODS));
        }
        if ($column->kind() === TermKind::Json || in_array($method, ['sum', 'average'], true) && ! $column->kind()->isNumber() || in_array($method, ['min', 'max'], true) && $column->kind() === TermKind::Boolean) {
            throw CannotFilter::because("$method does not take $column->name, which is {$column->kind()->value}.");
        }
        $quoted = $column->sql();

        return match ($method) {
            'sum' => $column->kind() === TermKind::Float ? [new FeedColumn($name, 'float'), "SUM($quoted)"] : [new FeedColumn($name, 'decimal', $column->type === 'integer' ? 0 : $column->scale), "SUM($quoted)"],
            // The sum is exact; rounded once, it is divided once.
            'average' => [new FeedColumn($name, 'float'), $column->kind() === TermKind::Float ? "AVG($quoted)" : "CAST(SUM($quoted) AS DOUBLE) / COUNT($quoted)"],
            'countdistinct' => [new FeedColumn($name, 'integer'), "COUNT(DISTINCT $quoted)"],
            default => [new FeedColumn($name, $column->type, $column->scale), strtoupper($method)."($quoted)"],
        };
    }

    /**
     * @throws CannotFilter
     */
    private function column(string $name, RowSource $source): FeedColumn
    {
        $known = array_column($source->columns, null, 'name');
        if (! isset($known[$name])) {
            $near = NearestName::to($name, array_map(strval(...), array_keys($known)));
            throw preg_match('/^[\w\s]*$/D', $name) === 1 ? CannotFilter::because("There is no column \"$name\"".($near === null ? '.' : "; \"$near\" was probably meant.")) : CannotFilter::notHere("\"$name\" in \$apply", null, 'it takes columns');
        }

        return $known[$name];
    }

    /**
     * @return non-empty-list<string>
     *
     * @throws CannotFilter
     */
    private function split(string $text, string $sign): array
    {
        try {
            return NestedText::split($text, $sign);
        } catch (InvalidOption $invalid) {
            throw CannotFilter::because($invalid->getMessage());
        }
    }

    /**
     * @return array{string, string|null}
     *
     * @throws CannotFilter
     */
    private function call(string $text): array
    {
        try {
            return NestedText::call($text);
        } catch (InvalidOption $invalid) {
            throw CannotFilter::because($invalid->getMessage());
        }
    }
}
