<?php

declare(strict_types=1);

namespace Tests\Core\Check;

use DeepSpring\Check\CheckProposal;
use DeepSpring\Check\CheckProposals;
use DeepSpring\Check\Checks;
use DeepSpring\Check\ColumnSeen;
use DeepSpring\Check\TextForm;
use DeepSpring\Flatten\Plan;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class CheckProposalsTest extends TestCase
{
    /**
     * @return iterable<string, array{list<string>, string|null}>
     */
    public static function forms(): iterable
    {
        yield 'a prefix and a number' => [['SC-00731', 'SC-10442'], 'SC-\d{5}'];
        yield 'numbers of several lengths' => [['SC-7', 'SC-10442'], 'SC-\d+'];
        yield 'letters that differ' => [['NQ-1', 'OM-2'], '[A-Z]{2}-\d'];
        yield 'a year that is the same is still a number' => [['2030/1', '2030/2'], '\d{4}/\d'];
        yield 'small letters' => [['a1', 'bcd22'], '[a-z]+\d+'];
        yield 'signs of expressions' => [['(1)', '(2)'], '\(\d\)'];
        yield 'not the same parts' => [['SC-1', 'SC1'], null];
        yield 'not the same signs' => [['SC-1', 'SC/2'], null];
        yield 'no digits' => [['North Quay', 'Old Mill'], null];
        yield 'digits alone say little' => [['0731', '1044'], null];
        yield 'other scripts' => [['港-1', '博-2'], null];
        yield 'nothing' => [[], null];
    }

    /**
     * @param  list<string>  $texts
     */
    #[DataProvider('forms')]
    public function test_texts_have_a_form_in_common_or_not(array $texts, ?string $form): void
    {
        self::assertSame($form, TextForm::of($texts));
        foreach ($form === null ? [] : $texts as $text) {
            self::assertSame(1, preg_match("~\\A(?:$form)\\z~u", $text), $text);
        }
    }

    /**
     * @return iterable<string, array{ColumnSeen, list<array<string, mixed>>}>
     */
    public static function columns(): iterable
    {
        $codes = array_map(static fn (int $number): string => "SC-$number", range(1, 30));
        yield 'always there' => [new ColumnSeen('title', 'text', 30, 30, 30, 'A', 'Z', ['Apple', 'Box']), [['never_empty' => ['title']]]];
        yield 'sometimes' => [new ColumnSeen('title', 'text', 30, 29, 29, 'A', 'Z', ['Apple']), []];
        yield 'too few rows' => [new ColumnSeen('title', 'text', 19, 19, 19, 'A', 'Z', ['Apple']), []];
        yield 'the key' => [new ColumnSeen('loan_id', 'integer', 30, 30, 30, '1', '30'), []];
        yield 'a number of its own' => [new ColumnSeen('object_number', 'text', 30, 30, 30, 'a', 'b', $codes), [['never_empty' => ['object_number']], ['unique' => ['object_number']], ['matches' => 'object_number', 'pattern' => 'SC-\d+']]];
        yield 'a closed set' => [new ColumnSeen('status', 'text', 30, 28, 2, 'open', 'packed', ['open', 'packed']), [['one_of' => 'status', 'values' => ['open', 'packed']]]];
        yield 'few rows for each value' => [new ColumnSeen('status', 'text', 20, 9, 2, 'open', 'packed', ['open', 'packed']), []];
        yield 'amounts' => [new ColumnSeen('fee', 'decimal', 30, 20, 9, '0.00', '99.50'), [['range' => 'fee', 'at_least' => 0]]];
        yield 'amounts below zero' => [new ColumnSeen('fee', 'decimal', 30, 20, 9, '-0.01', '99.50'), []];
        yield 'a number that is a name' => [new ColumnSeen('house_id', 'integer', 30, 20, 9, '1', '9'), []];
        yield 'something recent' => [new ColumnSeen('changed', 'datetime', 30, 20, 20, '2030-01-01 00:00:00.000000', '2031-03-09 12:00:01.000000'), [['newest' => 'changed', 'no_older_than' => 'P2D']]];
        yield 'something planned' => [new ColumnSeen('due', 'datetime', 30, 20, 20, '2030-01-01 00:00:00.000000', '2031-04-09 12:00:01.000000'), []];
        yield 'JSON' => [new ColumnSeen('more', 'json', 30, 30, 30, '{}', '{}'), []];
    }

    /**
     * @param  list<array<string, mixed>>  $proposals
     */
    #[DataProvider('columns')]
    public function test_what_held_is_proposed(ColumnSeen $column, array $proposals): void
    {
        $made = CheckProposals::of([$column], ['loan_id'], new \DateTimeImmutable('2031-03-10T12:00:00Z'));
        self::assertSame($proposals, array_map(static fn (CheckProposal $one): array => $one->settings, $made));
        $plan = Plan::of(['table' => 'loans', 'columns' => [['name' => $column->name, 'from' => '$.x', 'type' => $column->type]]]);
        self::assertCount(count($proposals) + 1, Checks::all(array_map(static fn (CheckProposal $one): array => $one->settings, $made), $plan), 'each can be made');
    }
}
