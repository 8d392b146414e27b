<?php

declare(strict_types=1);

namespace Tests\Core\Sql;

use DeepSpring\Sql\Example;
use DeepSpring\Sql\Examples;
use DeepSpring\Sql\JoinTie;
use PHPUnit\Framework\TestCase;

final class ExamplesTest extends TestCase
{
    /**
     * @param  list<Example>  $examples
     * @return list<string>
     */
    private function titles(array $examples): array
    {
        return array_map(static fn (Example $one): string => $one->title, $examples);
    }

    public function test_what_is_asked_follows_from_what_a_table_has(): void
    {
        $columns = ['ref' => 'text', 'house' => 'text', 'due' => 'date', 'loan_no' => 'integer', 'cover' => 'decimal'];
        $all = Examples::of('loans', $columns, ['ref'], [new JoinTie('items', [['ref', 'loan']], 'x')], ['loans__20310401']);
        self::assertSame([
            'Top ten of house', 'Values of house that are there more than once', 'Top ten by cover', 'Share of each house in cover', 'Per month', 'Per week, a column for each day of the week', 'Per day, with days without any', 'Per day: lowest, highest, mean, first, last and change of cover', 'Of the last 24 hours', 'This month so far, and the same of last year', 'Per ISO week', 'Running total of cover', 'Change of cover to the row before', 'The latest of each house',
            'Rows without one in items', 'With how many of items', 'What is new since loans__20310401', 'What is gone since loans__20310401',
        ], $this->titles($all));
        self::assertStringContainsString('where not exists (select 1 from items b where b.loan = a.ref)', $all[14]->sql);
        self::assertSame("select ref from loans\nexcept\nselect ref from loans__20310401", $all[16]->sql);
    }

    public function test_a_table_with_little_in_it_asks_little(): void
    {
        self::assertSame([], Examples::of('bare', ['doc' => 'json'], [], [], []));
        self::assertSame(['Top ten of ref', 'Values of ref that are there more than once'], $this->titles(Examples::of('refs', ['ref' => 'text'], ['ref'], [], [])));
        self::assertSame(['Top ten by n'], $this->titles(Examples::of('numbers', ['id' => 'integer', 'n' => 'integer'], ['id'], [], [])));
        self::assertSame(['Per month', 'Per week, a column for each day of the week', 'Per day, with days without any', 'Of the last 24 hours', 'This month so far, and the same of last year', 'Per ISO week'], $this->titles(Examples::of('days', ['day' => 'date'], [], [], [])));
    }
}
