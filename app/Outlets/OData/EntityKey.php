<?php

declare(strict_types=1);

namespace App\Outlets\OData;

use App\Outlets\FeedProblem;
use DeepSpring\Feed\BoundSql;
use DeepSpring\Feed\CannotFilter;
use DeepSpring\Feed\FeedColumn;
use DeepSpring\Feed\FeedValue;
use DeepSpring\Feed\FilterSql;
use DeepSpring\Feed\OldMoment;
use DeepSpring\OData\Filter\FilterParser;
use DeepSpring\OData\Filter\InvalidFilter;
use DeepSpring\OData\Filter\Node\FilterConstant;
use DeepSpring\OData\ODataVersion;

/**
 * The key of one entity in a path: `(7)` or `(object='0412.02',line=3)` (OData 4.01 URL conventions §4.3.1).
 */
final class EntityKey
{
    private const PART = '/\G\s*(?:([A-Za-z_]\w*)\s*=\s*)?((?:[A-Za-z]+)?\'(?:[^\']|\'\')*\'|[^\',()\s]+)\s*(,|$)/';

    /**
     * @throws FeedProblem
     */
    public static function condition(FeedEntity $entity, string $text, ODataVersion $version = ODataVersion::V4): BoundSql
    {
        $values = [];
        $at = 0;
        $rest = ',';
        while ($rest === ',' && preg_match(self::PART, $text, $part, PREG_UNMATCHED_AS_NULL, $at) === 1) {
            $values[$part[1] ?? ''] = (string) $part[2];
            $at += strlen((string) $part[0]);
            $rest = (string) $part[3];
        }
        $names = array_map(static fn (FeedColumn $column): string => $column->name, $entity->key);
        if (array_keys($values) === [''] && count($names) === 1) {
            $values = [$names[0] => $values['']];
        }
        if ($at < strlen($text) || $rest === ',' || array_diff($names, array_keys($values)) !== [] || count($values) !== count($names)) {
            throw new FeedProblem(400, "The key of $entity->set is written (".(count($names) === 1 ? 'value' : implode(',', array_map(static fn (string $name): string => "$name=value", $names))).'), with texts in single quotes.');
        }
        $conditions = [];
        foreach ($names as $name) {
            try {
                FilterParser::parse($values[$name]) instanceof FilterConstant || throw new FeedProblem(400, "\"{$values[$name]}\" is no value of a key.");
                $conditions[] = (new FilterSql($entity->columns, $version, new \DateTimeImmutable('2030-01-01')))->condition("$name eq {$values[$name]}");
            } catch (CannotFilter $cannot) {
                throw FeedProblem::ofFilter('key', $cannot);
            } catch (InvalidFilter $invalid) {
                throw new FeedProblem(400, $invalid->getMessage(), [], 'key', $invalid);
            }
        }

        return BoundSql::all(...$conditions);
    }

    /**
     * In an address of version 4.
     *
     * @param  list<string|null>  $values  of the key, as the database gives them
     */
    public static function written(FeedEntity $entity, array $values): string
    {
        $parts = array_map(static fn (FeedColumn $column, ?string $value): string => rawurlencode(match ($column->type) {
            'datetime' => FeedValue::moment((string) $value),
            'time' => FeedValue::time((string) $value),
            'boolean' => $value === '0' ? 'false' : 'true',
            'integer', 'decimal', 'float', 'date', 'uuid' => (string) $value,
            default => "'".str_replace("'", "''", (string) $value)."'",
        }), $entity->key, $values);

        return self::joined($entity, $parts);
    }

    /**
     * @param  list<string>  $parts
     */
    private static function joined(FeedEntity $entity, array $parts): string
    {
        return '('.(count($parts) === 1 ? $parts[0] : implode(',', array_map(static fn (FeedColumn $column, string $part): string => "$column->name=$part", $entity->key, $parts))).')';
    }

    /**
     * In an address of version 2 ([URI conventions 2.0] §2.2.2, with the literals of §2.2.2 of [Overview]).
     *
     * @param  list<string|null>  $values  of the key, as the database gives them
     */
    public static function old(FeedEntity $entity, array $values): string
    {
        $parts = array_map(static fn (FeedColumn $column, ?string $value): string => rawurlencode(match ($column->type) {
            'integer' => "{$value}L",
            'decimal' => "{$value}M",
            'float' => "{$value}d",
            'boolean' => $value === '0' ? 'false' : 'true',
            'date' => "datetime'{$value}T00:00:00'",
            'datetime' => "datetime'".rtrim(FeedValue::moment((string) $value), 'Z')."'",
            'time' => "time'".OldMoment::duration(FeedValue::time((string) $value))."'",
            'uuid' => "guid'$value'",
            default => "'".str_replace("'", "''", (string) $value)."'",
        }), $entity->key, $values);

        return self::joined($entity, $parts);
    }
}
