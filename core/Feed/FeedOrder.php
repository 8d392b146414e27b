<?php

declare(strict_types=1);

namespace DeepSpring\Feed;

use DeepSpring\Value\NearestName;

/**
 * What rows are sorted by: columns with `asc` or `desc` behind them, commas between (OData 4.01 URL conventions
 * §5.1.5). The key comes last, so that each row has a place of its own.
 */
final readonly class FeedOrder
{
    private const MOST = 20;

    /**
     * @param  list<OrderPart>  $parts
     */
    private function __construct(public array $parts)
    {
    }

    /**
     * @param  list<FeedColumn>  $columns
     * @param  list<OrderPart>  $key  the columns that tell rows apart
     *
     * @throws CannotFilter
     */
    public static function read(string $text, array $columns, array $key): self
    {
        $known = array_column($columns, null, 'name');
        $parts = [];
        $at = 0;
        foreach (trim($text) === '' ? [] : explode(',', $text) as $one) {
            if (preg_match('/^\s*(?:\$it\/)?(\S+?)(?:\s+(asc|desc))?\s*$/D', $one, $found) !== 1) {
                throw CannotFilter::because(trim($one) === '' ? 'Between the commas stands nothing to sort by.' : '"'.trim($one).'" is no column with asc or desc behind it.', $at);
            }
            $column = $known[$found[1]] ?? throw self::unknown($found[1], array_map(strval(...), array_keys($known)), $at);
            if ($column->kind() === TermKind::Json) {
                throw CannotFilter::notHere('An order by JSON', $at);
            }
            // What a column is sorted by a second time changes nothing.
            $parts[$column->name] ??= new OrderPart($column, ($found[2] ?? '') === 'desc');
            $at += mb_strlen($one, 'UTF-8') + 1;
        }
        if (count($parts) > self::MOST) {
            throw CannotFilter::because('Rows are sorted by at most '.self::MOST.' columns.');
        }
        foreach ($key as $part) {
            $parts[$part->column->name] ??= $part;
        }

        return new self(array_values($parts));
    }

    /**
     * @param  list<string>  $known
     */
    private static function unknown(string $name, array $known, int $at): CannotFilter
    {
        if (preg_match('/[(\/]/', $name) === 1) {
            return CannotFilter::notHere("An order by $name", $at, 'rows are sorted by columns');
        }
        $near = NearestName::to($name, $known);

        return CannotFilter::because("There is no column \"$name\"".($near === null ? '.' : "; \"$near\" was probably meant."), $at);
    }

    public function sql(): string
    {
        return implode(', ', array_map(static fn (OrderPart $part): string => $part->sql(), $this->parts));
    }
}
