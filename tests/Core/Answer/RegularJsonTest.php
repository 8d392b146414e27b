<?php

declare(strict_types=1);

namespace Tests\Core\Answer;

use DeepSpring\Answer\DecodingLoss;
use DeepSpring\Answer\Digits;
use DeepSpring\Answer\Duplicates;
use DeepSpring\Answer\RegularJson;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class RegularJsonTest extends TestCase
{
    /**
     * @return iterable<string, array{string, bool}> one record among many that are like {"id":17,"n":{"v":1.5},"l":["x"]}, and whether all are regular with it
     */
    public static function records(): iterable
    {
        yield 'like the others' => ['{"id":18,"n":{"v":-0.25},"l":[]}', true];
        yield 'without one member' => ['{"id":18,"l":["x","y"]}', true];
        yield 'without any' => ['{}', true];
        yield 'null where others have an object' => ['{"id":null,"n":null,"l":null}', true];
        yield 'texts with marks in them' => ['{"id":"a\\"b","n":{"v":"\\\\"},"l":["\":","}]"]}', true];
        yield 'a whole number of 18 digits' => ['{"id":-123456789012345678,"n":{"v":0}}', true];
        yield 'a member twice' => ['{"id":18,"id":19}', false];
        yield 'a member twice, inside' => ['{"id":18,"n":{"v":1,"v":2}}', false];
        yield 'a member twice, not side by side' => ['{"id":18,"n":{"v":1},"id":18}', false];
        yield 'a member twice, one of them escaped' => ['{"id":18,"\\u0069d":19}', false];
        yield 'more digits than fit, in a list' => ['{"id":1,"l":[0.12345678901234567]}', false];
        yield 'a number beyond 64 bits, in a list' => ['{"id":1,"l":[12345678901234567890]}', false];
        yield 'another member' => ['{"id":18,"m":1}', false];
        yield 'another order' => ['{"n":{"v":1},"id":18}', false];
        yield 'another kind' => ['{"id":18,"n":[1]}', false];
        yield 'a number beyond 64 bits' => ['{"id":12345678901234567890}', false];
        yield 'minus zero' => ['{"id":-0}', false];
        yield 'an exponent' => ['{"id":1e3}', false];
        yield 'more digits than a float keeps' => ['{"id":1,"n":{"v":1234.567890123456}}', false];
    }

    #[DataProvider('records')]
    public function test_one_record_among_many_alike(string $record, bool $isRegular): void
    {
        $records = array_map(static fn (int $number): string => "{\"id\":$number,\"n\":{\"v\":1.5},\"l\":[\"x\"]}", range(1000, 1999));
        $plain = '{"data":['.implode(',', $records).'],"next":"page 2"}';
        $records[500] = $record;
        $json = '{"data":['.implode(',', $records).'],"next":"page 2"}';
        // Others that were not regular may have come before.
        for ($time = 0; $time < 20 && ! RegularJson::is($plain, json_decode($plain)); $time++) {
        }
        self::assertTrue(RegularJson::is($plain, json_decode($plain)));
        self::assertSame($isRegular, RegularJson::is($json, json_decode($json)));
        $spaced = (string) json_encode(json_decode($plain), JSON_PRETTY_PRINT);
        RegularJson::is($spaced, json_decode($spaced));
        self::assertTrue(RegularJson::is($spaced, json_decode($spaced)));
    }

    public function test_a_member_that_few_records_have_is_learned_from_the_pages_that_have_it(): void
    {
        $page = static fn (int $page): string => '['.implode(',', array_map(static fn (int $number): string => "{\"id\":$number,".($number % 137 === 3 ? '"seal":"broken",' : '').'"note":"Light below 50 lux"}', range(1000 * $page, 1000 * $page + 999))).']';
        $first = null;
        for ($number = 1; $number <= 40; $number++) {
            $json = $page($number);
            $first = RegularJson::is($json, json_decode($json)) ? $first ?? $number : null;
        }
        self::assertNotNull($first);
        self::assertLessThan(20, $first);
    }

    public function test_what_is_called_regular_has_no_member_twice_and_no_unusual_number(): void
    {
        mt_srand($seed = (int) (getenv('SPRING_SEED') ?: random_int(1, 1_000_000)));
        $regular = $odd = 0;
        for ($round = 0; $round < 150; $round++) {
            $record = self::shape(3);
            $records = array_map(static fn (): string => $record(0), range(1, 400));
            $hasOdd = mt_rand(0, 1) === 1;
            if ($hasOdd) {
                $records[mt_rand(0, 399)] = $record(40);
            }
            $json = '['.implode(',', $records).']';
            $document = json_decode($json, false, 512, JSON_BIGINT_AS_STRING);
            self::assertIsArray($document, "seed $seed, round $round");
            [$twice, $unusual] = [Duplicates::find($json) !== [], Digits::mayBeUnusual($json)];
            for ($time = 0, $is = false; $time < 12 && ! $is; $time++) {
                $is = RegularJson::is($json, $document);
                self::assertFalse($is && ($twice || $unusual), "seed $seed, round $round");
            }
            $loss = DecodingLoss::of($json, $document);
            self::assertSame([$twice, $unusual], [$loss->members, $loss->numbers], "seed $seed, round $round");
            $regular += $is ? 1 : 0;
            $odd += $twice || $unusual ? 1 : 0;
        }
        self::assertGreaterThan(20, $regular);
        self::assertGreaterThan(15, $odd);
    }

    /**
     * @return \Closure(int): string makes a value of one random kind, given in how many of 100 places something is odd
     */
    private static function shape(int $depth): \Closure
    {
        $isOdd = static fn (int $odds): bool => mt_rand(1, 100) <= $odds;
        $kind = $depth === 3 ? 2 : mt_rand(0, $depth > 0 ? 3 : 1);
        if ($kind < 2) {
            $odd = ['-0', '1e400', '0.12345678901234567', '12345678901234567890', '[]', '{"a":1,"a":2}', '{"a" :1}'];

            return static fn (int $odds): string => $isOdd($odds) ? $odd[mt_rand(0, 6)] : ($kind === 0 ? (string) mt_rand(-99, 99) : '"'.['', 'text', ':', '\\"', '\\\\', '{\\"a\\":1}'][mt_rand(0, 5)].'"');
        }
        $parts = array_map(static fn (): \Closure => self::shape($depth - 1), range(0, mt_rand(0, 4)));
        if ($kind === 3) {
            return static fn (int $odds): string => '['.implode(',', array_map(static fn (): string => $parts[0]($odds), range(0, mt_rand(0, 2)))).']';
        }

        return static function (int $odds) use ($parts, $isOdd): string {
            $members = array_map(static fn (\Closure $part, int $number): string => '"'.['id', 'ø', ':', 'a b', '7'][$isOdd($odds) ? mt_rand(0, 4) : $number].'":'.$part($odds), $parts, array_keys($parts));

            return '{'.implode(',', $members).'}';
        };
    }
}
