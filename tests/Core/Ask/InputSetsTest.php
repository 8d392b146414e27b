<?php

declare(strict_types=1);

namespace Tests\Core\Ask;

use DeepSpring\Ask\AskDefinition;
use DeepSpring\Ask\InputSets;
use DeepSpring\Ask\InvalidInput;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class InputSetsTest extends TestCase
{
    private const INPUTS = [
        ['name' => 'house', 'in' => 'path', 'required' => true],
        ['name' => 'status', 'in' => 'query', 'many' => 'comma', 'try' => ['open', 'packed']],
        ['name' => 'page_size', 'in' => 'query', 'type' => 'integer', 'default' => 50],
        ['name' => 'expand', 'in' => 'query', 'fixed' => 'items'],
    ];

    /**
     * @return iterable<string, array{array<string, mixed>, list<array<string, list<string>>>, string}>
     */
    public static function kept(): iterable
    {
        yield 'nothing' => [[], [[]], 'all of it'];
        yield 'one value' => [['status' => 'open'], [['status' => ['open']]], 'only status = open'];
        yield 'a number and a truth' => [['page_size' => 20, 'status' => true], [['page_size' => ['20'], 'status' => ['true']]], 'only page_size = 20; status = true'];
        yield 'a list is read one after the other' => [['status' => ['open', 'packed']], [['status' => ['open']], ['status' => ['packed']]], 'only status = open, then packed, in 2 readings'];
        yield 'a list in the list is one reading' => [['status' => [['open', 'packed']]], [['status' => ['open', 'packed']]], 'only status = open and packed'];
        yield 'lists are combined' => [
            ['house' => ['hq', 'mill'], 'status' => ['open', ['packed', 'sent']]],
            [['house' => ['hq'], 'status' => ['open']], ['house' => ['hq'], 'status' => ['packed', 'sent']], ['house' => ['mill'], 'status' => ['open']], ['house' => ['mill'], 'status' => ['packed', 'sent']]],
            'only house = hq, then mill; status = open, then packed and sent, in 4 readings',
        ];
        yield 'an empty list says nothing' => [['status' => []], [[]], 'all of it'];
        yield 'an empty text is said as such' => [['status' => ''], [['status' => ['']]], 'only status = ""'];
    }

    /**
     * @param  array<string, mixed>  $inputs
     * @param  list<array<string, list<string>>>  $sets
     */
    #[DataProvider('kept')]
    public function test_what_is_kept_becomes_readings_and_words(array $inputs, array $sets, string $words): void
    {
        $kept = InputSets::of($this->ask(), $inputs);
        self::assertSame([$sets, $words], [$kept->sets, $kept->words()]);
    }

    public function test_values_to_try_with_are_never_among_them(): void
    {
        foreach (InputSets::of($this->ask(), ['house' => 'hq'])->sets as $set) {
            self::assertArrayNotHasKey('status', $set);
        }
    }

    /**
     * @return iterable<string, array{array<string, mixed>, list<string>}>
     */
    public static function faulty(): iterable
    {
        yield 'one that has to be filled is not' => [['status' => 'open'], ['house']];
        yield 'an input that is not there' => [['house' => 'hq', 'hause' => 'x'], ['hause']];
        yield 'one that is a constant' => [['house' => 'hq', 'expand' => 'x'], ['expand']];
        yield 'a value of another type' => [['house' => 'hq', 'page_size' => 'many'], ['page_size']];
        yield 'several values for one that takes one' => [['house' => [['hq', 'mill']]], ['house']];
        yield 'a value in the last of several readings' => [['house' => ['hq', 'mill', '..']], ['house']];
    }

    /**
     * @param  array<string, mixed>  $inputs
     * @param  list<string>  $names
     */
    #[DataProvider('faulty')]
    public function test_what_cannot_be_sent_is_named(array $inputs, array $names): void
    {
        self::assertSame($names, array_keys(InputSets::of($this->ask(), $inputs)->faults()));
    }

    public function test_too_many_readings_are_refused_before_they_are_made(): void
    {
        $this->expectException(InvalidInput::class);
        $this->expectExceptionMessage('more than 10');
        InputSets::of($this->ask(), ['house' => array_map(strval(...), range(1, 200)), 'status' => array_map(strval(...), range(1, 200))]);
    }

    public function test_columns_get_what_is_sent(): void
    {
        $sent = static fn (array $set): array => InputSets::sent(AskDefinition::of(['inputs' => self::INPUTS]), $set);
        self::assertSame(['house' => 'hq', 'page_size' => '50', 'expand' => 'items'], $sent(['house' => ['hq']]));
        self::assertSame(['page_size' => '20', 'status' => 'open,packed', 'expand' => 'items'], $sent(['page_size' => ['20'], 'status' => ['open', 'packed']]));
    }

    private function ask(): AskDefinition
    {
        return AskDefinition::of(['path' => '/loans/{house}', 'inputs' => self::INPUTS]);
    }
}
