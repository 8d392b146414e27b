<?php

declare(strict_types=1);

namespace Tests\Core\Describe;

use DeepSpring\Describe\ImportedEndpoint;
use DeepSpring\Describe\ImportMerge;
use DeepSpring\SourceFile\SourceFile;
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
        $merge = new ImportMerge;
        $merged = $merge->of([self::loans()], [$mine(self::loans())], [new ImportedEndpoint($theirs(self::loans()), 'GET /loans/{id}')]);
        self::assertCount(1, $merged);
        self::assertSame($is, $look($merged[0]));
        self::assertCount($kept, $merge->kept);
        self::assertSame($merged[0] != $mine(self::loans()), $merge->changes !== []);
    }

    public function test_new_operations_are_added_and_gone_ones_are_named(): void
    {
        $other = ['slug' => 'loans', 'name' => 'Create', 'does' => 'create', 'ask' => ['method' => 'POST', 'path' => '/loans'], 'flatten' => ['table' => 'loans', 'columns' => [['name' => 'id', 'from' => '$.id']]]];
        $merge = new ImportMerge;
        $merged = $merge->of([self::loans()], [self::loans()], [new ImportedEndpoint($other, 'POST /loans')]);
        self::assertSame([['loans-2'], ['loans']], [$merge->added, $merge->gone]);
        self::assertSame(['loans', 'loans-2'], array_column($merged, 'slug'));
        self::assertSame(['loans', 'loans_2'], array_column(array_column($merged, 'flatten'), 'table'));
    }

    public function test_an_endpoint_that_was_deleted_does_not_come_back_unless_chosen(): void
    {
        $theirs = [new ImportedEndpoint(self::loans(), 'GET /loans/{id}')];
        self::assertSame([], (new ImportMerge)->of([self::loans()], [], $theirs));
        self::assertCount(1, (new ImportMerge)->of([self::loans()], [], $theirs, ['loans']));
        self::assertCount(0, (new ImportMerge)->of([], [], $theirs, []));
    }

    /**
     * @return iterable<string, array{\Closure(array<string, mixed>): array<string, mixed>, \Closure(array<string, mixed>): array<string, mixed>, list<string>, \Closure(array<string, mixed>): mixed, mixed, mixed}> mine, theirs, the conflicts, what is looked at, what it is, and what it is when the other side is chosen
     */
    public static function conflicts(): iterable
    {
        $fee = static fn (array $column): \Closure => static function (array $one) use ($column): array {
            $one['flatten']['columns'][2] = $column;

            return $one;
        };
        $same = static fn (array $one): array => $one;
        $columns = static fn (array $one): mixed => $one['flatten']['columns'][2] ?? null;
        yield 'decimals that somebody set, of what is text now' => [
            $fee(['name' => 'fee', 'from' => '$.fee', 'type' => 'decimal', 'scale' => 4]), $fee(['name' => 'fee', 'from' => '$.fee', 'type' => 'text']),
            ['flatten › columns › fee'], $columns, ['name' => 'fee', 'from' => '$.fee', 'type' => 'decimal', 'scale' => 4], ['name' => 'fee', 'from' => '$.fee', 'type' => 'text'],
        ];
        yield 'an input that somebody edited and the API removed' => [
            static fn (array $one): array => array_replace_recursive($one, ['ask' => ['inputs' => [1 => ['try' => 'open']]]]), static fn (array $one): array => array_replace($one, ['ask' => ['inputs' => [$one['ask']['inputs'][0]]] + $one['ask']]),
            ['ask › inputs › status'], static fn (array $one): mixed => array_column($one['ask']['inputs'], 'name'), ['id', 'status'], ['id'],
        ];
        yield 'two names' => [static fn (array $one): array => ['name' => 'Ours'] + $one, static fn (array $one): array => ['name' => 'Theirs'] + $one, ['name'], static fn (array $one): mixed => $one['name'], 'Ours', 'Theirs'];
        yield 'a column that a key of somebody needs' => [
            static fn (array $one): array => array_replace_recursive($one, ['flatten' => ['key' => ['fee']]]), static fn (array $one): array => array_replace($one, ['flatten' => ['columns' => array_slice($one['flatten']['columns'], 0, 2)] + $one['flatten']]),
            ['flatten'], static fn (array $one): mixed => [$one['flatten']['key'] ?? [], count($one['flatten']['columns'])], [['fee'], 3], [[], 2],
        ];
        yield 'nothing' => [$same, $same, [], $columns, ['name' => 'fee', 'from' => '$.fee', 'type' => 'decimal', 'scale' => 2], ['name' => 'fee', 'from' => '$.fee', 'type' => 'decimal', 'scale' => 2]];
    }

    /**
     * @param  list<string>  $places
     */
    #[DataProvider('conflicts')]
    public function test_what_cannot_go_together_is_a_conflict_with_both_sides_and_never_a_refusal(\Closure $mine, \Closure $theirs, array $places, \Closure $look, mixed $is, mixed $taken): void
    {
        $base = self::loans();
        $base['flatten']['columns'][] = ['name' => 'fee', 'from' => '$.fee', 'type' => 'decimal', 'scale' => 2];
        foreach ([[[], $is], [array_map(static fn (string $place): string => "loans › $place", $places), $taken]] as [$take, $expected]) {
            $merge = new ImportMerge($take);
            [$merged] = $merge->of([$base], [$mine($base)], [new ImportedEndpoint($theirs($base), 'GET /loans/{id}')]);
            self::assertSame($expected, $look($merged));
            self::assertSame($places, array_column($take === [] ? $merge->kept : $merge->taken, 'place'));
            self::assertSame([], $take === [] ? $merge->taken : $merge->kept);
            SourceFile::of(['deepspring' => 1, 'source' => ['slug' => 'x', 'name' => 'x', 'environments' => ['x' => ['base' => 'http://x.example']]], 'endpoints' => [$merged]]);
        }
    }

    public function test_an_input_that_no_description_named_keeps_the_name_a_person_gave_it(): void
    {
        $theirs = self::loans();
        $theirs['ask'] = ['path' => '/loans/{loan_id}', 'inputs' => [['name' => 'loan_id', 'in' => 'path', 'required' => true], $theirs['ask']['inputs'][1]]] + $theirs['ask'];
        $merge = new ImportMerge;
        self::assertEquals([self::loans()], $merge->of([], [self::loans()], [new ImportedEndpoint($theirs, 'GET /loans/{loan_id}')]));
        self::assertSame([[], [], []], [$merge->renamed, $merge->kept, $merge->changes]);
    }

    public function test_what_was_set_for_an_input_of_the_path_goes_with_it_when_it_is_renamed(): void
    {
        $mine = self::loans();
        $mine['ask']['inputs'][0]['try'] = '8812';
        $mine['keep']['inputs'] = ['id' => ['8812', '8813'], 'status' => 'open'];
        $mine['flatten']['columns'][] = ['name' => 'of', 'input' => 'id'];
        $theirs = self::loans();
        $theirs['ask'] = ['path' => '/loans/{loanId}', 'inputs' => [['name' => 'loanId', 'in' => 'path', 'required' => true], ['name' => 'status', 'in' => 'query']]] + $theirs['ask'];
        $merge = new ImportMerge;
        [$merged] = $merge->of([self::loans()], [$mine], [new ImportedEndpoint($theirs, 'GET /loans/{loanId}')]);
        self::assertSame(['/loans/{loanId}', ['loanId', 'status'], '8812', ['loanId' => ['8812', '8813'], 'status' => 'open'], 'loanId'], [$merged['ask']['path'], array_column($merged['ask']['inputs'], 'name'), $merged['ask']['inputs'][0]['try'], $merged['keep']['inputs'], $merged['flatten']['columns'][2]['input']]);
        self::assertSame([[['slug' => 'loans', 'from' => 'id', 'to' => 'loanId']], []], [$merge->renamed, $merge->kept]);
        SourceFile::of(['deepspring' => 1, 'source' => ['slug' => 'x', 'name' => 'x', 'environments' => ['x' => ['base' => 'http://x.example']]], 'endpoints' => [$merged]]);
    }
}
