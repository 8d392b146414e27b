<?php

declare(strict_types=1);

namespace Tests\Core\Describe;

use DeepSpring\Describe\ImportedEndpoint;
use DeepSpring\Describe\Merge;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class MergeTest extends TestCase
{
    /**
     * @return array<string, mixed>
     */
    private static function loans(): array
    {
        return ['slug' => 'loans', 'name' => 'Loans', 'does' => 'list', 'ask' => ['method' => 'GET', 'path' => '/loans/{id}', 'inputs' => [['name' => 'id', 'in' => 'path', 'required' => true], ['name' => 'status', 'in' => 'query']]], 'flatten' => ['table' => 'loans', 'columns' => [['name' => 'id', 'from' => '$.id'], ['name' => 'ref', 'from' => '$.ref']]]];
    }

    /**
     * @return iterable<string, array{\Closure(array<string, mixed>): array<string, mixed>, \Closure(array<string, mixed>): array<string, mixed>, \Closure(array<string, mixed>): mixed, mixed, int}> mine, theirs, what is looked at, what it is, and how many edits were kept against theirs
     */
    public static function cases(): iterable
    {
        $same = static fn (array $one): array => $one;
        $named = static fn (string $name): \Closure => static fn (array $one): array => ['name' => $name] + $one;
        $status = static fn (mixed $value): \Closure => static function (array $one) use ($value): array {
            $one['ask']['inputs'][1]['try'] = $value;

            return $one;
        };
        $columns = static fn (array $change): \Closure => static function (array $one) use ($change): array {
            $one['flatten']['columns'] = $change;

            return $one;
        };
        $name = static fn (array $one): mixed => $one['name'];
        $try = static fn (array $one): mixed => $one['ask']['inputs'][1]['try'] ?? null;
        $names = static fn (array $one): mixed => implode(' ', array_column($one['flatten']['columns'], 'name'));
        yield 'nobody changed anything' => [$same, $same, $name, 'Loans', 0];
        yield 'the API changed a value' => [$same, $named('Loans out'), $name, 'Loans out', 0];
        yield 'a person changed a value' => [$named('Ours'), $same, $name, 'Ours', 0];
        yield 'both, to the same' => [$named('Ours'), $named('Ours'), $name, 'Ours', 0];
        yield 'both, to different values' => [$named('Ours'), $named('Theirs'), $name, 'Ours', 1];
        yield 'a person filled in a value' => [$status('open'), $same, $try, 'open', 0];
        yield 'a person filled it in and the API changed the name' => [$status('open'), $named('Theirs'), $try, 'open', 0];
        yield 'a column was added by the API' => [$same, $columns([['name' => 'id', 'from' => '$.id'], ['name' => 'ref', 'from' => '$.ref'], ['name' => 'due', 'from' => '$.due']]), $names, 'id ref due', 0];
        yield 'a column was removed by a person' => [$columns([['name' => 'id', 'from' => '$.id']]), $same, $names, 'id', 0];
        yield 'a column was added by a person' => [$columns([['name' => 'id', 'from' => '$.id'], ['name' => 'ref', 'from' => '$.ref'], ['name' => 'mine', 'from' => '$.x']]), $columns([['name' => 'id', 'from' => '$.id'], ['name' => 'ref', 'from' => '$.ref'], ['name' => 'due', 'from' => '$.due']]), $names, 'id ref mine due', 0];
        yield 'a column was removed by the API' => [$same, $columns([['name' => 'id', 'from' => '$.id']]), $names, 'id', 0];
        yield 'an input was renamed by the API' => [$same, static fn (array $one): array => json_decode(str_replace('{id}', '{loan}', str_replace('"name":"id","in":"path"', '"name":"loan","in":"path"', (string) json_encode($one, JSON_UNESCAPED_SLASHES))), true), static fn (array $one): mixed => $one['ask']['path'].' '.implode(' ', array_column($one['ask']['inputs'], 'name')), '/loans/{loan} loan status', 0];
    }

    #[DataProvider('cases')]
    public function test_what_the_api_changed_is_taken_over_and_what_people_edited_stays(\Closure $mine, \Closure $theirs, \Closure $look, mixed $is, int $kept): void
    {
        $merge = new Merge;
        $merged = $merge->of([self::loans()], [$mine(self::loans())], [new ImportedEndpoint($theirs(self::loans()), 'GET /loans/{id}')]);
        self::assertCount(1, $merged);
        self::assertSame($is, $look($merged[0]));
        self::assertCount($kept, $merge->kept);
        self::assertSame($merged[0] != $mine(self::loans()), $merge->changes !== []);
    }

    public function test_new_operations_are_added_and_gone_ones_are_named(): void
    {
        $other = ['slug' => 'loans', 'name' => 'Create', 'does' => 'create', 'ask' => ['method' => 'POST', 'path' => '/loans'], 'flatten' => ['table' => 'loans', 'columns' => [['name' => 'id', 'from' => '$.id']]]];
        $merge = new Merge;
        $merged = $merge->of([self::loans()], [self::loans()], [new ImportedEndpoint($other, 'POST /loans')]);
        self::assertSame([['loans-2'], ['loans']], [$merge->added, $merge->gone]);
        self::assertSame(['loans', 'loans-2'], array_column($merged, 'slug'));
        self::assertSame(['loans', 'loans_2'], array_column(array_column($merged, 'flatten'), 'table'));
    }

    public function test_an_endpoint_that_was_deleted_does_not_come_back_unless_chosen(): void
    {
        $theirs = [new ImportedEndpoint(self::loans(), 'GET /loans/{id}')];
        self::assertSame([], (new Merge)->of([self::loans()], [], $theirs));
        self::assertCount(1, (new Merge)->of([self::loans()], [], $theirs, ['loans']));
        self::assertCount(0, (new Merge)->of([], [], $theirs, []));
    }
}
