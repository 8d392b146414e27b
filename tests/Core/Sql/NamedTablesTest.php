<?php

declare(strict_types=1);

namespace Tests\Core\Sql;

use DeepSpring\Sql\NamedTable;
use DeepSpring\Sql\NamedTables;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class NamedTablesTest extends TestCase
{
    /**
     * @return iterable<string, array{string, list<string>}> statement, and each table with its alias where that differs
     */
    public static function statements(): iterable
    {
        yield 'one' => ['select * from loans', ['loans']];
        yield 'with an alias' => ['select l.ref from loans l', ['loans l']];
        yield 'with AS' => ['select l.ref from loans AS l where l.ref = 1', ['loans l']];
        yield 'in backticks' => ['select * from `odd ``name` o', ['odd `name o']];
        yield 'with a schema' => ['select * from data.loans', ['loans']];
        yield 'joins' => ['select * from loans l left join venues v on v.code = l.house natural join crates', ['loans l', 'venues v', 'crates']];
        yield 'a list' => ['select * from loans, venues v, crates where 1', ['loans', 'venues v', 'crates']];
        yield 'a list after a condition' => ['select * from a join b on a.x = b.y, c', ['a', 'b', 'c']];
        yield 'joins in brackets' => ['select * from (loans l join venues v on l.house = v.code) join crates c', ['loans l', 'venues v', 'crates c']];
        yield 'a query in FROM' => ['select * from (select ref from loans order by due limit 3) x join venues', ['loans', 'venues']];
        yield 'a query in a condition' => ['select * from loans where ref in (select loan from loan_items where n > 1) and exists (select 1 from venues)', ['loans', 'loan_items', 'venues']];
        yield 'a query in the list of columns' => ['select (select max(at) from readings r where r.crate = c.id), c.id from crates c', ['readings r', 'crates c']];
        yield 'a union' => ['(select a from x) union all (select b from y order by 1) order by 1', ['x', 'y']];
        yield 'TABLE' => ['table loans', ['loans']];
        yield 'words in functions are no FROM' => ["select extract(year from at), trim(both ' ' from name), substring(name from 2) from loans", ['loans']];
        yield 'a comma in ORDER BY' => ['select * from loans order by due, ref', ['loans']];
        yield 'a comma in GROUP BY after a join' => ['select house, due, count(*) from loans join venues on 1 group by house, due', ['loans', 'venues']];
        yield 'USING' => ['select * from a join b using (x, y) join c using (z)', ['a', 'b', 'c']];
        yield 'index hints' => ['select * from a use index (p, q) join b force index for join (r)', ['a', 'b']];
        yield 'a function that gives rows' => ["select * from loans, json_table(items, '$[*]' columns (a int path '$.a')) j", ['loans']];
        yield 'WITH' => ['with late as (select * from loans where due < now()), per as (select house, count(*) n from late group by house) select * from per join venues v on v.code = per.house', ['loans', 'venues v']];
        yield 'WITH of the name of a table reads the table' => ['with loans as (select * from loans where open) select * from loans', ['loans']];
        yield 'WITH RECURSIVE' => ['with recursive up (id, n) as (select id, 1 from parts union all select p.id, n + 1 from parts p join up on up.id = p.parent) select * from up', ['parts', 'parts p']];
        yield 'WITH inside brackets is not known outside' => ['select * from (with a as (select 1) select * from a) x join a on 1', ['a']];
        yield 'names in texts and comments' => ["select 'from crates' /* from venues */ from loans -- from readings\n# from x", ['loans']];
        yield 'values' => ['values (1), (2)', []];
        yield 'nothing' => ['select 1', []];
        yield 'a window' => ['select row_number() over (partition by house order by due) from loans window w as (order by ref)', ['loans']];
        yield 'union after from' => ['select a from x where 1 union select b from y, z', ['x', 'y', 'z']];
        yield 'unfinished' => ['select * from loans l join ', ['loans l']];
        yield 'a comma at the end' => ['select * from loans, ', ['loans']];
        yield 'broken brackets' => ['select )) from loans l ((', ['loans l']];
        yield 'two statements' => ['select 1 from a; select 2 from b', ['a', 'b']];
        yield 'other scripts' => ['select * from δάνεια δ join المعارض', ['δάνεια δ', 'المعارض']];
    }

    /**
     * @param  list<string>  $wanted
     */
    #[DataProvider('statements')]
    public function test_the_tables_that_a_statement_reads(string $sql, array $wanted): void
    {
        $found = NamedTables::of($sql);
        self::assertSame($wanted, array_map(static fn (NamedTable $one): string => $one->name.($one->alias === $one->name ? '' : " $one->alias"), $found));
        foreach ($found as $one) {
            self::assertContains(substr($sql, $one->at, strlen($one->name)), [$one->name, substr('`'.str_replace('`', '``', $one->name), 0, strlen($one->name))]);
        }
    }
}
