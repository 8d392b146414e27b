<?php

declare(strict_types=1);

namespace Tests\Core\Sql;

use DeepSpring\Sql\StatementText;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class StatementTextTest extends TestCase
{
    /**
     * @return iterable<string, array{string, list<string>}>
     */
    public static function texts(): iterable
    {
        yield 'one' => ['select 1', ['select 1']];
        yield 'one with a semicolon' => ["select 1 ;\n", ['select 1']];
        yield 'several' => ["select 1;\n\nselect 2;;\n; select 3", ['select 1', 'select 2', 'select 3']];
        yield 'in a text, a name, a comment' => ["select ';', `a;b` /* ; */ -- ;\n from t # ;\n; select \"it''s; \\\"x;\"", ["select ';', `a;b` /* ; */ -- ;\n from t # ;", "select \"it''s; \\\"x;\""]];
        yield 'only comments' => ["-- nothing\n/* here */ ;", []];
        yield 'nothing' => ["  \n", []];
        yield 'a text that does not end' => ["select 'a; select 2", ["select 'a; select 2"]];
    }

    /**
     * @param  list<string>  $wanted
     */
    #[DataProvider('texts')]
    public function test_a_text_is_cut_where_statements_end(string $text, array $wanted): void
    {
        $all = StatementText::all($text);
        self::assertSame($wanted, array_map(static fn (StatementText $one): string => $one->sql, $all));
        foreach ($all as $one) {
            self::assertSame($one->sql, substr($text, $one->at, strlen($one->sql)));
        }
    }

    public function test_the_statement_under_the_cursor(): void
    {
        $text = "select 1;\n select 2 ; select 3";
        $at = static fn (int $cursor): ?string => StatementText::at($text, $cursor)?->sql;
        self::assertSame(['select 1', 'select 1', 'select 1', 'select 2', 'select 2', 'select 3', 'select 3'], array_map($at, [0, 8, 9, 11, 20, 23, 99]));
        self::assertNull(StatementText::at(' ; ', 1));
    }
}
