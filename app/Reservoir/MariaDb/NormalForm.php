<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use DeepSpring\Indexing\TableUse;

/**
 * A statement as EXPLAIN EXTENDED writes it down (MariaDB, Note 1003): every column with schema, table
 * or alias, and name, all quoted; inner joins as conditions.
 */
final class NormalForm
{
    private const TOKEN = '~/\*.*?\*/|`(?:[^`]++|``)*+`|\'(?:[^\'\\\\]++|\\\\.|\'\')*+\'|[A-Za-z_][\w$]*|\d[\w.]*|<=>|<>|<=|>=|<\w+>|[^\s\w]~su';

    private const CLAUSES = ['from', 'where', 'group', 'having', 'order', 'limit'];

    /** @var array<string, string> tables by the names that the statement gives them */
    public array $tables = [];

    /** @var list<StatementPart> */
    private array $parts = [];

    /** @var list<string|list<string>> texts, and names with what stands before them */
    private array $tokens = [];

    private int $at = 0;

    public function __construct(string $text, private readonly string $schema)
    {
        $this->tokens = $this->tokens($text);
        while ($this->at < count($this->tokens)) {
            $this->tokens[$this->at++] === 'select' && $this->select();
        }
    }

    /**
     * @return list<TableUse> one for each time a table is named
     */
    public function uses(): array
    {
        $uses = [];
        foreach ($this->parts as $part) {
            array_push($uses, ...$part->uses());
        }

        return $uses;
    }

    /**
     * One SELECT, up to its end or to the next one that it is united with.
     *
     * @return list<list<string>> columns in it that are of tables around it
     */
    private function select(): array
    {
        $clauses = ['select' => []];
        $clause = 'select';
        $depth = 0;
        $outside = [];
        for (; $this->at < count($this->tokens); $this->at++) {
            $token = $this->tokens[$this->at];
            if ($token === ')' && --$depth < 0 || $depth === 0 && in_array($token, ['union', 'except', 'intersect'], true)) {
                break;
            }
            if ($token === 'select') {
                // What stands inside is a part of its own; here it is something unknown.
                $this->at++;
                array_push($outside, ...$this->select());
                $this->at--;
                $clauses[$clause][] = '?';

                continue;
            }
            $depth += $token === '(' ? 1 : 0;
            if ($depth === 0 && is_string($token) && in_array($token, self::CLAUSES, true)) {
                $clause = $token;
                $clauses[$clause] = [];
            } else {
                $clauses[$clause][] = $token;
            }
        }
        $part = new StatementPart($clauses, $this->schema, $outside);
        $this->tables = $part->tables + $this->tables;
        $this->parts[] = $part;

        return $part->outside;
    }

    /**
     * @return list<string|list<string>>
     */
    private function tokens(string $text): array
    {
        preg_match_all(self::TOKEN, $text, $found);
        $tokens = [];
        $isDotted = false;
        foreach ($found[0] as $token) {
            $last = count($tokens) - 1;
            if (str_starts_with($token, '/*')) {
                continue;
            }
            if ($token[0] !== '`') {
                $isDotted = $token === '.' && $last >= 0 && is_array($tokens[$last]);
                $isDotted || $tokens[] = $token[0] === "'" ? $token : strtolower($token);

                continue;
            }
            $name = str_replace('``', '`', substr($token, 1, -1));
            if ($isDotted && is_array($tokens[$last])) {
                $tokens[$last][] = $name;
            } else {
                $tokens[] = [$name];
            }
            $isDotted = false;
        }

        return $tokens;
    }
}
