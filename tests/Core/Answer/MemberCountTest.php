<?php

declare(strict_types=1);

namespace Tests\Core\Answer;

use DeepSpring\Answer\Duplicates;
use DeepSpring\Answer\MemberCount;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class MemberCountTest extends TestCase
{
    /**
     * @return iterable<string, array{string, int, int}> a document, its members, and how many the quick count finds
     */
    public static function documents(): iterable
    {
        yield 'a list of loans' => ['[{"id":1,"insurance":null},{"id":2,"insurance":{"value":3,"currency":"SMK"}}]', 6, 6];
        yield 'lines in a list' => ['{"data":[{"id":1,"lines":[{"n":1},{"n":2}]},{"id":2,"lines":[]}]}', 7, 7];
        yield 'a list of lists' => ['[[{"a":1}],[{"a":1},{"b":{"c":1}}]]', 4, 4];
        yield 'names that are numbers, and none' => ['{"5":{"0":{"":{"":1}}},"":{"a":{}}}', 6, 6];
        yield 'a structure where the first few had none' => ['['.str_repeat('{"a":1},', 6).'{"a":{"b":1}}]', 8, 8 - 1];
        yield 'one list, one object of the same name' => ['[{"a":[{"b":1}]},{"a":{"c":1,"d":[{"e":1}]}}]', 6, 6];
        yield 'no structure' => ['"a"', 0, 0];
    }

    #[DataProvider('documents')]
    public function test_members_are_counted(string $json, int $members, int $quick): void
    {
        self::assertSame($members, MemberCount::exactly(json_decode($json)));
        self::assertSame($quick, MemberCount::atLeast(json_decode($json)));
        self::assertFalse(Duplicates::areIn($json, json_decode($json)));
    }

    public function test_a_member_that_stands_twice_is_seen_in_every_spelling(): void
    {
        mt_srand(19);
        $twice = 0;
        for ($round = 0; $round < 3000; $round++) {
            $json = self::some(mt_rand(1, 4));
            $found = Duplicates::find($json) !== [];
            $twice += $found ? 1 : 0;
            self::assertSame($found, Duplicates::areIn($json, json_decode($json)), $json);
        }
        self::assertGreaterThan(300, $twice);
        self::assertLessThan(2700, $twice);
    }

    private static function some(int $depth): string
    {
        $names = ['a', 'b', 'c', '5', '', ':', 'a:', '\\"', 'a\\":', 'ø', 'é'];
        $blank = static fn (): string => mt_rand(0, 40) === 0 ? [' ', "\n", "\t", "\r"][mt_rand(0, 3)] : '';
        $kind = $depth <= 0 ? 0 : mt_rand(0, 3);
        if ($kind === 0) {
            return ['1', 'null', '"text"', '":"', '"a\\":"', '"\\":\\":"', '[]', '{}'][mt_rand(0, 7)];
        }
        $parts = [];
        for ($number = mt_rand(0, 4); $number > 0; $number--) {
            $parts[] = $kind === 1 ? self::some($depth - 1) : $blank().'"'.$names[mt_rand(0, count($names) - 1)].'"'.$blank().':'.$blank().self::some($depth - 1);
        }

        return $kind === 1 ? '['.implode(',', $parts).']' : '{'.implode(',', $parts).'}';
    }
}
