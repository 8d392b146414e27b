<?php

declare(strict_types=1);

namespace Tests\Core\OData;

use DeepSpring\Flatten\Plan;
use DeepSpring\OData\Derive\Derived;
use DeepSpring\OData\Pushdown\Pushdown;
use DeepSpring\OData\Pushdown\Wanted;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class PushdownTest extends TestCase
{
    /**
     * @return iterable<array{int, string, string, list<string>, string|null, bool}> version, column, operator, values, filter, whether it is exact
     */
    public static function conditions(): iterable
    {
        yield from [
            [4, 'value', '>', ['12.50'], 'Value gt 12.50', true], [4, 'value', '<>', ['1'], 'Value ne 1', false], [4, 'value', 'between', ['1', '2.5'], 'Value ge 1 and Value le 2.5', true], [4, 'value', 'in', ['1', '2'], '(Value eq 1 or Value eq 2)', true], [4, 'value', 'in', ['1'], 'Value eq 1', true],
            [4, 'on_loan', '=', ['1'], 'OnLoan eq true', true], [4, 'on_loan', '=', ['FALSE'], 'OnLoan eq false', true], [4, 'on_loan', '=', ['2'], null, false],
            [4, 'acquired', '>=', ['2030-05-01'], 'Acquired ge 2030-05-01', true], [4, 'acquired', '>=', ['2030-05-01 00:00:00'], null, false], [4, 'changed', '<', ['2030-05-01 09:30:00'], 'Changed lt 2030-05-01T09:30:00Z', true], [4, 'mark', '=', ['0f1e2d3c-4b5a-6978-8796-a5b4c3d2e1f0'], 'Mark eq 0f1e2d3c-4b5a-6978-8796-a5b4c3d2e1f0', true],
            [4, 'title', '=', ["O'Shee"], "Title eq 'O''Shee'", false], [4, 'title', '>', ['M'], null, false], [4, 'title', 'like', ['Eel%'], "startswith(Title,'Eel')", false], [4, 'title', 'like', ['%ee_%'], null, false], [4, 'title', 'like', ['%trap'], "endswith(Title,'trap')", false], [4, 'title', 'like', ['%l t%'], "contains(Title,'l t')", false], [4, 'title', 'like', ['Eel trap'], "Title eq 'Eel trap'", false], [4, 'title', 'is null', [], 'Title eq null', false], [4, 'value', 'is null', [], null, false], [4, 'weight', 'is not null', [], 'Weight ne null', false], [4, 'weight', '>', ['1.5'], 'Weight gt 1.5', false],
            [4, 'remarks', '=', ['x'], null, false], [4, 'made_of', '=', ['oak'], null, false], [4, 'venue_name', '=', ['Rope Walk'], "Venue/Name eq 'Rope Walk'", false], [4, 'nothing', '=', ['x'], null, false], [4, 'VALUE', '=', ['1'], 'Value eq 1', true],
            [2, 'value', '>', ['12.50'], 'Value gt 12.50M', true], [2, 'acquired', '<', ['2030-05-01'], "Acquired lt datetime'2030-05-01T00:00:00'", true], [2, 'title', 'like', ['%glass%'], "substringof('glass',Title)", false], [2, 'mark', 'in', ['0f1e2d3c-4b5a-6978-8796-a5b4c3d2e1f0'], "Mark eq guid'0f1e2d3c-4b5a-6978-8796-a5b4c3d2e1f0'", true],
        ];
    }

    /**
     * @param  list<string>  $values
     */
    #[DataProvider('conditions')]
    public function test_a_condition_is_asked_of_the_service_only_where_that_is_safe(int $version, string $column, string $operator, array $values, ?string $filter, bool $isExact): void
    {
        $part = self::pushdown($version)->condition(new Wanted($column, $operator, $values, 'as it stands'));
        self::assertSame([$filter, $isExact], [$part->asked, $part->isExact], $part->why);
        self::assertSame($filter === null, $part->why !== '');
    }

    public function test_what_is_empty_is_not_asked_for_beside_an_outer_join(): void
    {
        self::assertNull(self::pushdown(4)->condition(new Wanted('title', 'is null', [], ''), true)->asked);
    }

    public function test_rows_are_sorted_by_the_service_only_by_what_is_sorted_alike_everywhere(): void
    {
        $push = self::pushdown(4);
        self::assertSame(['Value desc', 'Changed', null, null, null], [$push->order('value', true)->asked, $push->order('changed', false)->asked, $push->order('title', false)->asked, $push->order('mark', false)->asked, $push->order('remarks', false)->asked]);
    }

    public function test_properties_are_those_of_the_columns_that_are_named(): void
    {
        $push = self::pushdown(4);
        self::assertSame(['Title', 'Value', 'MadeOf'], $push->select(['title', 'value', 'venue_name', 'made_of', 'nothing', 'title']));
    }

    private static function pushdown(int $version): Pushdown
    {
        $model = CsdlTest::registrar($version);
        $flatten = (new Derived($model->version, $model))->parts(['slug' => 'objects', 'entity_set' => 'Objects', 'expand' => ['Venue' => ['select' => ['Name']]]])['flatten'] ?? self::fail();

        return new Pushdown($model, $model->set('Objects') ?? self::fail(), CsdlTest::type($model, 'Objects'), Plan::of($flatten)->table);
    }
}
