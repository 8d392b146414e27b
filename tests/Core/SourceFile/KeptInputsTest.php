<?php

declare(strict_types=1);

namespace Tests\Core\SourceFile;

use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\KeptInputs;
use DeepSpring\SourceFile\SourceFile;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class KeptInputsTest extends TestCase
{
    public function test_test_values_are_taken_over_as_one_reading(): void
    {
        $endpoint = self::endpoint([['name' => 'house', 'in' => 'query', 'try' => 'hq'], ['name' => 'status', 'in' => 'query', 'many' => 'comma', 'try' => ['open', 'packed']],
            ['name' => 'kind', 'in' => 'query', 'many' => 'comma', 'try' => ['loan']], ['name' => 'expand', 'in' => 'query', 'fixed' => 'items', 'try' => 'x'], ['name' => 'q', 'in' => 'query']]);
        self::assertSame(['house' => 'hq', 'status' => [['open', 'packed']], 'kind' => 'loan'], KeptInputs::fromTestValues($endpoint));
    }

    public function test_a_value_that_could_not_be_sent_is_not_taken_over(): void
    {
        self::assertSame([], KeptInputs::fromTestValues(self::endpoint([['name' => 'size', 'in' => 'query', 'type' => 'integer', 'try' => 'many']])));
    }

    public function test_what_is_said_already_and_what_writes_is_left_alone(): void
    {
        $inputs = [['name' => 'house', 'in' => 'query', 'try' => 'hq']];
        self::assertSame([], KeptInputs::fromTestValues(self::endpoint($inputs, ['keep' => ['inputs' => ['house' => 'mill']]])));
        self::assertSame([], KeptInputs::fromTestValues(self::endpoint($inputs, ['does' => 'update'])));
    }

    public function test_a_renamed_input_takes_its_value_along_and_a_removed_one_goes_with_it(): void
    {
        $before = self::endpoint([['name' => 'house', 'in' => 'query'], ['name' => 'status', 'in' => 'query'], ['name' => 'page', 'in' => 'query']], ['keep' => ['inputs' => ['house' => 'hq', 'status' => 'open', 'page' => 1], 'refresh' => ['mode' => 'whole']]]);
        $after = ['ask' => ['path' => '/loans', 'inputs' => [['name' => 'venue', 'in' => 'query'], ['name' => 'status', 'in' => 'query']]]] + $before;
        self::assertSame(['inputs' => ['venue' => 'hq', 'status' => 'open'], 'refresh' => ['mode' => 'whole']], KeptInputs::following($before, $after)['keep']);
        self::assertArrayNotHasKey('keep', KeptInputs::following(['keep' => ['inputs' => ['page' => 1]]] + $before, ['keep' => ['inputs' => ['page' => 1]]] + $after));
    }

    /**
     * @return iterable<string, array{string, bool, mixed, string}>
     */
    public static function typed(): iterable
    {
        yield 'nothing' => [" \n ", false, null, ''];
        yield 'one value' => ['open', false, 'open', 'open'];
        yield 'one with a comma' => ['Varga, Ines', false, 'Varga, Ines', 'Varga, Ines'];
        yield 'a line is a reading' => ["open\r\n packed \n", false, ['open', 'packed'], "open\npacked"];
        yield 'several values of one reading' => ['open, packed', true, [['open', 'packed']], 'open, packed'];
        yield 'both' => ["open, packed\nsent", true, [['open', 'packed'], 'sent'], "open, packed\nsent"];
    }

    #[DataProvider('typed')]
    public function test_what_is_typed_is_read_and_shown_again(string $typed, bool $isMany, mixed $value, string $shown): void
    {
        self::assertSame([$value, $shown], [KeptInputs::read($typed, $isMany), KeptInputs::text(KeptInputs::read($typed, $isMany))]);
    }

    public function test_a_file_with_a_value_that_cannot_be_sent_says_where(): void
    {
        $this->expectException(InvalidSourceFile::class);
        $this->expectExceptionMessage('endpoints[0].keep.inputs.size');
        SourceFile::read("deepspring: 1\nsource: {slug: s, name: S, environments: {trial: {base: \"http://127.0.0.1\"}}}\nendpoints:\n  - slug: loans\n    name: Loans\n    ask: {path: /loans, inputs: [{name: size, in: query, type: integer}]}\n    keep: {inputs: {size: many}}\n");
    }

    /**
     * @param  list<array<string, mixed>>  $inputs
     * @param  array<string, mixed>  $more
     * @return array<string, mixed>
     */
    private static function endpoint(array $inputs, array $more = []): array
    {
        return $more + ['slug' => 'loans', 'name' => 'Loans', 'ask' => ['path' => '/loans', 'inputs' => $inputs]];
    }
}
