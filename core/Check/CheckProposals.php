<?php

declare(strict_types=1);

namespace DeepSpring\Check;

use DeepSpring\Value\Phrase;

/**
 * What was seen of a table → rules that it kept so far. Nobody knows from rows alone whether that is chance, so these
 * are offered, and never taken by themselves.
 */
final class CheckProposals
{
    /** Rows without which nothing is proposed. */
    private const LEAST = 20;

    /** Values that a closed set has at most. */
    private const FEW = 8;

    /** Characters of a value that is the name of something. */
    private const SHORT = 30;

    private const NUMBERS = ['integer', 'decimal', 'float'];

    /** Names of what tells things apart. */
    private const NAMES = '/(^|_)(id|ids|no|nr|number|code|key|ref|reference|slug|uuid|guid|e?mail|isbn|sku)$/i';

    /**
     * @param  list<ColumnSeen>  $columns  that hold their values as they are
     * @param  list<string>  $key  names of columns
     * @param  \DateTimeImmutable  $now  by which a newest value is recent
     * @return list<CheckProposal>
     */
    public static function of(array $columns, array $key, \DateTimeImmutable $now): array
    {
        $rows = $columns[0]->rows ?? 0;
        if ($rows < self::LEAST) {
            return [];
        }
        $others = array_values(array_filter($columns, static fn (ColumnSeen $one): bool => $one->type !== 'json' && ! in_array($one->name, $key, true)));
        $proposals = [];
        $full = array_values(array_filter($others, static fn (ColumnSeen $one): bool => $one->filled === $rows));
        if ($full !== []) {
            $proposals[] = new CheckProposal(['never_empty' => array_column($full, 'name')], 'They have a value in all '.Phrase::count($rows, 'row').'.');
        }
        foreach ($others as $column) {
            $proposals[] = self::unique($column);
            $proposals[] = self::oneOf($column);
            $proposals[] = self::form($column);
            $proposals[] = self::range($column);
            $proposals[] = self::newest($column, $now);
        }

        return array_values(array_filter($proposals));
    }

    private static function unique(ColumnSeen $column): ?CheckProposal
    {
        return $column->distinct === $column->rows && in_array($column->type, ['text', 'integer', 'uuid'], true) && preg_match(self::NAMES, $column->name) === 1
            ? new CheckProposal(['unique' => [$column->name]], 'In '.Phrase::count($column->rows, 'row').' no value came twice.') : null;
    }

    private static function oneOf(ColumnSeen $column): ?CheckProposal
    {
        return $column->type === 'text' && $column->distinct > 1 && $column->distinct <= self::FEW && $column->filled >= 5 * $column->distinct && count($column->values) === $column->distinct && max(array_map(mb_strlen(...), $column->values)) <= self::SHORT
            ? new CheckProposal(['one_of' => $column->name, 'values' => $column->values], 'In '.Phrase::count($column->filled, 'row')." only these {$column->distinct} values came.") : null;
    }

    private static function form(ColumnSeen $column): ?CheckProposal
    {
        $form = $column->type === 'text' && $column->distinct > self::FEW && count($column->values) >= self::LEAST ? TextForm::of($column->values) : null;

        return $form === null ? null : new CheckProposal(['matches' => $column->name, 'pattern' => $form], 'All of '.Phrase::count(count($column->values), 'value').' that were looked at do.');
    }

    private static function range(ColumnSeen $column): ?CheckProposal
    {
        return in_array($column->type, self::NUMBERS, true) && $column->least !== null && $column->least[0] !== '-' && preg_match(self::NAMES, $column->name) !== 1 && $column->distinct > 1
            ? new CheckProposal(['range' => $column->name, 'at_least' => 0], 'The values seen lie between '.self::number($column->least).' and '.self::number((string) $column->largest).'.') : null;
    }

    private static function newest(ColumnSeen $column, \DateTimeImmutable $now): ?CheckProposal
    {
        if ($column->type !== 'datetime' || $column->largest === null) {
            return null;
        }
        $newest = new \DateTimeImmutable($column->largest, new \DateTimeZone('UTC'));

        return $newest > $now->modify('-1 day') && $newest <= $now->modify('+1 hour')
            ? new CheckProposal(['newest' => $column->name, 'no_older_than' => 'P2D'], 'The newest is '.substr($column->largest, 0, 16).' UTC.') : null;
    }

    private static function number(string $text): string
    {
        return str_contains($text, '.') && ! str_contains($text, 'e') ? rtrim(rtrim($text, '0'), '.') : $text;
    }
}
