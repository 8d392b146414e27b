<?php

declare(strict_types=1);

namespace App\Queries;

use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Principal;
use App\Reservoir\ReaderAccounts;
use DeepSpring\Sql\JoinedPair;
use DeepSpring\Sql\Joins;
use DeepSpring\Sql\KeySpellings;
use DeepSpring\Sql\KnownNames;

/**
 * What joins of a statement leave over: rows of either side without a match, and rows that a key which is none
 * multiplies. It looks at the tables as they are, before WHERE, as the account of whoever asks.
 */
final class JoinCoverage
{
    /** Rows of a side from which on a part of them is looked at, where not all is asked for. */
    public const SAMPLE = 50_000;

    /** Seconds that one look may take. */
    private const LONGEST = 4;

    private const WHOLE = 60;

    /** Values without a match whose writing is compared, and values they are compared with. */
    private const SPELLED = 300;

    private const COMPARED = 20_000;

    public function __construct(private readonly ReaderAccounts $accounts)
    {
    }

    /**
     * @return list<CoveredJoin>
     */
    public function of(Principal $principal, Environment $environment, string $sql, KnownNames $known, bool $whole): array
    {
        $pairs = array_filter(Joins::of($sql, $known), static fn (JoinedPair $pair): bool => isset($known->tables()[$pair->left->name], $known->tables()[$pair->right->name]));
        if ($pairs === []) {
            return [];
        }
        $rows = KeptTable::query()->where('environment_id', $environment->id)->where('is_view', false)->pluck('rows', 'name')->all();
        $pdo = $this->accounts->connect($principal, $environment, $whole ? self::WHOLE : self::LONGEST);
        $pdo->setAttribute(\PDO::MYSQL_ATTR_USE_BUFFERED_QUERY, true);

        return array_values(array_map(fn (JoinedPair $pair): CoveredJoin => new CoveredJoin(
            $pair, $this->side($pdo, $pair, $rows, $known, $whole), $this->side($pdo, $pair->turned(), $rows, $known, $whole),
        ), $pairs));
    }

    /**
     * Rows of the left side of a pair.
     *
     * @param  array<string, int>  $rows
     */
    private function side(\PDO $pdo, JoinedPair $pair, array $rows, KnownNames $known, bool $whole): CoveredSide
    {
        $sample = $whole || ($rows[$pair->left->name] ?? 0) <= self::SAMPLE ? '' : ' where rand() < '.self::SAMPLE / $rows[$pair->left->name];
        $types = self::types($pair, $known);
        try {
            $counts = $this->first($pdo, 'with s as (select '.self::columns($pair, 0, 'k').' from '.self::name($pair->left->name).$sample.'), g as (select '.self::columns($pair, 1, 'k')
                .', count(*) as c from '.self::name($pair->right->name).' where '.self::each($pair, 1, '%s is not null').' group by '.self::each($pair, 1, '%s', ', ').') '
                .'select count(*) as looked, coalesce(sum('.implode(' or ', array_map(static fn (int $n): string => "s.k$n is null", array_keys($pair->columns))).'), 0) as empty_, coalesce(sum(g.c is null), 0) as lone, coalesce(sum(g.c), 0) as made, coalesce(max(g.c), 0) as most '
                .'from s left join g on '.implode(' and ', array_map(static fn (int $n): string => "g.k$n = s.k$n", array_keys($pair->columns))));
        } catch (\PDOException) {
            return new CoveredSide(null, 0, 0, 0, 0, $sample !== '', $types, self::lone($pair));
        }
        $lone = (int) $counts['lone'];
        $spellings = $lone > (int) $counts['empty_'] && count($pair->columns) === 1 ? $this->spellings($pdo, $pair) : [];

        return new CoveredSide((int) $counts['looked'], $lone, (int) $counts['empty_'], (int) $counts['made'], (int) $counts['most'], $sample !== '', [...$types, ...$spellings], self::lone($pair));
    }

    /**
     * @return list<string>
     */
    private function spellings(\PDO $pdo, JoinedPair $pair): array
    {
        [[$here, $there]] = $pair->columns;
        try {
            $lone = $this->values($pdo, 'select distinct '.self::name($here).' from '.self::name($pair->left->name).' where '.self::name($here).' not in (select '.self::name($there).' from '.self::name($pair->right->name).' where '.self::name($there).' is not null) limit '.self::SPELLED);

            return KeySpellings::between($lone, $this->values($pdo, 'select distinct '.self::name($there).' from '.self::name($pair->right->name).' where '.self::name($there).' is not null limit '.self::COMPARED));
        } catch (\PDOException) {
            return [];
        }
    }

    /**
     * @return list<string> a sentence where columns of different types are compared
     */
    private static function types(JoinedPair $pair, KnownNames $known): array
    {
        $differing = [];
        foreach ($pair->columns as [$here, $there]) {
            $types = [$known->columns($pair->left->name)[$here] ?? '', $known->columns($pair->right->name)[$there] ?? ''];
            $isNumber = array_map(static fn (string $type): bool => preg_match('/^(?:whole number|integer|decimal|float|number)/', $type) === 1, $types);
            if ($types[0] !== '' && $types[1] !== '' && $isNumber[0] !== $isNumber[1]) {
                $differing[] = "{$pair->left->alias}.$here is $types[0] and {$pair->right->alias}.$there is $types[1], so they are compared as inexact numbers and no index helps.";
            }
        }

        return $differing;
    }

    /**
     * The rows of the left side without a match, as a statement.
     */
    private static function lone(JoinedPair $pair): string
    {
        $on = implode(' and ', array_map(static fn (array $columns): string => "{$pair->right->alias}.".self::plain($columns[1])." = {$pair->left->alias}.".self::plain($columns[0]), $pair->columns));
        $from = static fn (string $name, string $alias): string => self::plain($name).($alias === $name ? '' : ' '.self::plain($alias));

        return "select {$pair->left->alias}.*\nfrom {$from($pair->left->name, $pair->left->alias)}\nwhere not exists (select 1 from {$from($pair->right->name, $pair->right->alias)} where $on)\nlimit 1000";
    }

    private static function columns(JoinedPair $pair, int $side, string $as): string
    {
        return implode(', ', array_map(static fn (int $number, array $columns): string => self::name($columns[$side])." as $as$number", array_keys($pair->columns), $pair->columns));
    }

    private static function each(JoinedPair $pair, int $side, string $pattern, string $between = ' and '): string
    {
        return implode($between, array_map(static fn (array $columns): string => sprintf($pattern, self::name($columns[$side])), $pair->columns));
    }

    private static function name(string $name): string
    {
        return '`'.str_replace('`', '``', $name).'`';
    }

    private static function plain(string $name): string
    {
        return preg_match('/^[a-z_][a-z0-9_]*$/iD', $name) === 1 ? $name : self::name($name);
    }

    /**
     * @return array<string, string|null>
     */
    private function first(\PDO $pdo, string $sql): array
    {
        $row = ($pdo->query($sql) ?: throw new \PDOException('The database gave no result.'))->fetch(\PDO::FETCH_ASSOC);

        return is_array($row) ? $row : throw new \PDOException('The database gave no row.');
    }

    /**
     * @return list<string>
     */
    private function values(\PDO $pdo, string $sql): array
    {
        return array_map(strval(...), ($pdo->query($sql) ?: throw new \PDOException('The database gave no result.'))->fetchAll(\PDO::FETCH_COLUMN));
    }
}
