<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

use DeepSpring\Value\NearestName;

/**
 * Errors of MariaDB ("MariaDB Error Codes" of its manual) in words for whoever wrote the statement, with the
 * place they concern and the nearest name. An error that is not known here is told as the database says
 * it, without the names of schemas and accounts.
 */
final readonly class StatementFaults
{
    /** Columns that are named where none is near. */
    private const NAMED = 12;

    /** Functions under names that others give them. */
    private const FUNCTIONS_ELSEWHERE = ['string_agg' => 'group_concat', 'listagg' => 'group_concat', 'array_agg' => 'json_arrayagg', 'date_trunc' => 'date_format', 'getdate' => 'now', 'len' => 'char_length', 'isnull' => 'ifnull', 'to_char' => 'date_format', 'strftime' => 'date_format', 'median' => 'median … over', 'dateadd' => 'date_add', 'charindex' => 'locate', 'iff' => 'if'];

    /**
     * @param  list<string>  $schemas  what the database calls what the statement reads
     * @param  string  $where  the environment, as people call it
     */
    public function __construct(private Nouns $nouns, private array $schemas, private string $where)
    {
    }

    public function of(int $number, string $said, string $sql): StatementFault
    {
        return match ($number) {
            1142, 1143, 1044, 1146 => $this->table($said, $sql),
            1051 => $this->unknownAlias(preg_match("/'(?:[^'.]*\.)?([^'.]+)'/", $said, $part) === 1 ? $part[1] : '?', '*', $sql),
            1046 => $this->noneKept($sql),
            1054 => $this->column($said, $sql),
            1052 => $this->ambiguous($said, $sql),
            1055 => $this->ungrouped($said, $sql),
            1140 => new StatementFault('Beside count(), sum() and the like each other column has to be grouped: add "group by" with those columns, or take min() or max() of them.', ...self::first($sql, '/\bselect\b/i')),
            1111 => new StatementFault('count(), sum() and the like cannot stand in WHERE, which is looked at before rows are grouped. Put that condition into HAVING.', ...self::first($sql, '/\bwhere\b/i')),
            1463 => new StatementFault('HAVING compares groups, and there are none. Put the condition into WHERE.', ...self::first($sql, '/\bhaving\b/i')),
            1064 => (new SyntaxFaults($this->nouns))->of($said, $sql),
            1305, 1370 => $this->unknownFunction($said, $sql),
            1582, 1583 => $this->parameters($said, $sql),
            1242 => new StatementFault('A query in brackets that stands for a value gives more than one row. Narrow it, take max() of it, or write "in" in place of "=".'),
            1241 => new StatementFault('A query in brackets that stands for a value gives more than one column.'),
            1222 => new StatementFault('The queries that UNION puts together give different numbers of columns.', ...self::first($sql, '/\b(?:union|except|intersect)\b/i')),
            1060 => $this->named('/\'([^\']+)\'/', $said, $sql, 'Two columns of a query in brackets are called "%s". Give one of them a name of its own: … as another_name.'),
            1066 => $this->named('/\'([^\']+)\'/', $said, $sql, 'Two tables are called "%s" here. Give one of them an alias: … as another_name.'),
            1139 => new StatementFault('The regular expression cannot be read: '.(preg_match("/'(.+)'/s", $said, $part) === 1 ? $part[1] : $said).'.', ...self::first($sql, '/\b(?:regexp|rlike)\w*\b/i')),
            1690 => new StatementFault('A number is larger than 64 bits hold'.(preg_match("/in '(.+)'/s", $said, $part) === 1 ? ", in $part[1]" : '').'. Make it a decimal: cast(… as decimal(40, 0)).'),
            1525, 1292, 1411 => new StatementFault("$said. A date is written like '2031-04-09', a moment like '2031-04-09 14:30:00'."),
            4161 => $this->named("/'([^']+)'/", $said, $sql, 'There is no type "%s". Types for cast() are signed, unsigned, decimal(10, 2), double, char, date, datetime, time.'),
            1356 => new StatementFault((preg_match("/View '[^.']*\.([^']+)'/", $said, $part) === 1 ? "The view \"$part[1]\"" : 'A view').' cannot be read any more: a table or column that it reads is gone, or whoever owns it may not read that any more. Open its query to mend it.'),
            1449 => new StatementFault('A view that this reads belongs to somebody who is not here any more. Somebody else has to keep its query.'),
            1226 => new StatementFault('Too many of your queries run at once. Wait for one to end.'),
            1227 => new StatementFault('The query asks for a right that reading does not need.'),
            default => new StatementFault('The database says: '.rtrim($this->plain($said), '.').'.'),
        };
    }

    private function table(string $said, string $sql): StatementFault
    {
        if (preg_match("/for table `?([^`.]*)`?\.`([^`]+)`|Table '([^'.]*)\.([^']+)'|table '([^'.]*)\.([^']+)'/i", $said, $part) !== 1) {
            return new StatementFault('The database says: '.$this->plain($said).'.');
        }
        [$schema, $name] = array_values(array_filter(array_slice($part, 1), static fn (string $one): bool => $one !== '')) + ['', ''];
        if (in_array($schema, $this->schemas, true)) {
            return $this->noTable($name, $sql);
        }
        [$at, $length] = self::place($sql, $name);

        return new StatementFault("\"$schema.$name\" cannot be read here. Tables are named without anything before them, and those of $this->where are listed beside the editor.", $at, $length);
    }

    private function noTable(string $name, string $sql): StatementFault
    {
        [$at, $length] = self::place($sql, $name);
        $near = $this->nouns->nearestTable($name);
        $list = $this->nouns->tables === [] ? " Nothing is kept in $this->where yet." : ' The tables are listed beside the editor.';

        return new StatementFault("There is no table \"$name\" that you can read in $this->where.".($near === null ? $list : " Did you mean $near?"), $at, $length, $near);
    }

    /**
     * Where no schema is chosen, since nothing is kept in it.
     */
    private function noneKept(string $sql): StatementFault
    {
        foreach (NamedTables::names($sql) as $name) {
            if (! $this->nouns->has($name)) {
                return $this->noTable($name, $sql);
            }
        }

        return new StatementFault("Nothing that can be read is kept in $this->where yet.");
    }

    private function column(string $said, string $sql): StatementFault
    {
        if (preg_match("/Unknown column '(?:([^'.]*)\.)?(?:([^'.]*)\.)?([^'.]+)' in '([^']*)'/i", $said, $part) !== 1) {
            return new StatementFault('The database says: '.$this->plain($said).'.');
        }
        $of = $part[2] !== '' ? $part[2] : $part[1];
        $name = $part[3];
        [$at, $length] = self::place($sql, $name, $of);
        if (ctype_digit($name)) {
            return new StatementFault("There is no column number $name in the result.", $at, $length);
        }
        $aliases = array_map(static fn (NamedTable $one): string => strtolower($one->alias), NamedTables::of($sql));
        if ($of !== '' && ! in_array(strtolower($of), $aliases, true)) {
            return $this->unknownAlias($of, $name, $sql);
        }
        $columns = $this->nouns->columnsOf($sql, $of === '' ? null : $of);
        if ($of === '' && in_array(strtoupper($part[4]), ['WHERE', 'ON'], true) && preg_match('/\bas\s+`?'.preg_quote($name, '/').'\b|\s`?'.preg_quote($name, '/').'`?\s*(?:,|from\b)/i', $sql) === 1) {
            return new StatementFault("\"$name\" is a name that the query itself gives, and $part[4] is looked at before that. Repeat the expression there, or put the condition into HAVING.", $at, $length);
        }
        $near = NearestName::to($name, $columns);
        $where = $of === '' ? '' : " in $of";

        return new StatementFault("There is no column \"$name\"$where.".($near === null ? self::list($columns) : " Did you mean $near?"), $at, $length, $near === null ? null : ($of === '' ? $near : "$of.$near"));
    }

    /**
     * @param  list<string>  $columns
     */
    private static function list(array $columns): string
    {
        return $columns === [] ? '' : ' There are '.implode(', ', array_slice($columns, 0, self::NAMED)).(count($columns) > self::NAMED ? ' and '.(count($columns) - self::NAMED).' more.' : '.');
    }

    private function unknownAlias(string $of, string $name, string $sql): StatementFault
    {
        $named = NamedTables::of($sql);
        $near = NearestName::to($of, array_map(static fn (NamedTable $one): string => $one->alias, $named));
        [$at, $length] = $name === '*' ? self::place($sql, $of) : self::place($sql, $name, $of);
        $instead = $near === null ? null : ($name === '*' ? $near : "$near.$name");

        return new StatementFault("No table is called \"$of\" in this query.".($near === null ? '' : " Did you mean $near.$name?").self::called($named), $at, $length, $instead);
    }

    /**
     * @param  list<NamedTable>  $named
     */
    private static function called(array $named): string
    {
        $aliased = array_filter($named, static fn (NamedTable $one): bool => $one->alias !== $one->name);

        return $aliased === [] ? '' : ' '.implode(', ', array_map(static fn (NamedTable $one): string => "$one->name is called $one->alias", $aliased)).'.';
    }

    private function ambiguous(string $said, string $sql): StatementFault
    {
        $name = preg_match("/Column '([^']+)'/", $said, $part) === 1 ? $part[1] : '?';
        $having = array_values(array_filter(NamedTables::of($sql), fn (NamedTable $one): bool => in_array(strtolower($name), array_map(strtolower(...), $this->nouns->columnsOf($sql, $one->alias)), true)));
        $written = array_map(static fn (NamedTable $one): string => "$one->alias.$name", $having);

        return new StatementFault("Several tables have a column \"$name\"".($written === [] ? '. Write the name of the table and a dot before it.' : ': write '.implode(' or ', $written).'.'), ...self::place($sql, $name));
    }

    private function ungrouped(string $said, string $sql): StatementFault
    {
        $name = preg_match("/'(?:[^'.]*\.)*([^'.]+)' isn't/", $said, $part) === 1 ? $part[1] : '?';

        return new StatementFault("\"$name\" is neither grouped nor put together. Add it to \"group by\", or take min($name) or max($name).", ...self::place($sql, $name));
    }

    private function unknownFunction(string $said, string $sql): StatementFault
    {
        $name = preg_match("/(?:routine|FUNCTION) '?(?:[^'. ]*\.)?([^'. ]+)'?/", $said, $part) === 1 ? $part[1] : '?';
        [$at, $length] = self::place($sql, $name);
        $else = self::FUNCTIONS_ELSEWHERE[strtolower($name)] ?? null;
        $near = $else ?? NearestName::to(strtolower($name), SqlFunctions::names(), 0.34);

        return new StatementFault("There is no function \"$name\".".($near === null ? ' The list of functions beside the editor can be searched.' : ($else === null ? " Did you mean $near()?" : " In MariaDB $else() comes closest.")), $at, $length, $else === null ? $near : null);
    }

    private function parameters(string $said, string $sql): StatementFault
    {
        $name = strtolower(preg_match("/(?:function|procedure) '([^']+)'/", $said, $part) === 1 ? $part[1] : '?');
        $function = SqlFunctions::find($name);

        return new StatementFault("$name() has another number of values".($function === null ? '.' : ": $function->form, for example $function->example."), ...self::place($sql, $name));
    }

    private function named(string $pattern, string $said, string $sql, string $sentence): StatementFault
    {
        $name = preg_match($pattern, $said, $part) === 1 ? $part[1] : '?';

        return new StatementFault(sprintf($sentence, $name), ...self::place($sql, $name));
    }

    /**
     * Where a name stands first, or its qualified form.
     *
     * @return array{int|null, int}
     */
    private static function place(string $sql, string $name, string $of = ''): array
    {
        $tokens = Lexer::read($sql);
        foreach ($tokens as $number => $token) {
            if ($token->value() !== null && strcasecmp($token->text, $name) === 0 || $token->kind === TokenKind::Name && strcasecmp((string) $token->value(), $name) === 0 || $token->kind === TokenKind::Number && $token->text === $name) {
                $isQualified = $of !== '' && ($tokens[$number - 1] ?? null)?->is('.') === true && strcasecmp((string) ($tokens[$number - 2] ?? null)?->name(), $of) === 0;
                if ($of === '' || $isQualified) {
                    $at = $isQualified ? $tokens[$number - 2]->at : $token->at;

                    return [$at, $token->end() - $at];
                }
            }
        }

        return [null, 0];
    }

    /**
     * @return array{int|null, int}
     */
    private static function first(string $sql, string $pattern): array
    {
        return preg_match($pattern, $sql, $found, PREG_OFFSET_CAPTURE) === 1 ? [(int) $found[0][1], strlen((string) $found[0][0])] : [null, 0];
    }

    /**
     * Without what is nobody's business: schemas and accounts.
     */
    private function plain(string $said): string
    {
        $without = str_replace(array_merge(...array_map(static fn (string $one): array => ["`$one`.", "$one."], $this->schemas)), '', $said);

        return (string) preg_replace("/ (?:to|for|by) (?:user )?'[^']*'@'[^']*'/", '', $without);
    }
}
