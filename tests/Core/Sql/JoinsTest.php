<?php

declare(strict_types=1);

namespace Tests\Core\Sql;

use DeepSpring\Sql\JoinedPair;
use DeepSpring\Sql\Joins;
use DeepSpring\Sql\KeySpellings;
use DeepSpring\Sql\KnownNames;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class JoinsTest extends TestCase
{
    /**
     * @return iterable<string, array{string, list<string>}>
     */
    public static function statements(): iterable
    {
        yield 'one' => ['select * from loans l join venues v on v.code = l.house', ['l.house = v.code']];
        yield 'a left one' => ['select * from loans l left join venues v on v.code = l.house where v.code is null', ['l.house = v.code, left stays']];
        yield 'a left outer one' => ['select * from loans l left outer join venues v on l.house = v.code', ['l.house = v.code, left stays']];
        yield 'a right one' => ['select * from loans l right join venues v on v.code = l.house', ['l.house = v.code, right stays']];
        yield 'several' => ['select * from loans l join venues v on v.code = l.house left join items i on i.loan = l.ref and i.part = l.part where l.due > 1', ['l.house = v.code', 'l.ref = i.loan and l.part = i.part, left stays']];
        yield 'without alias and without qualification' => ['select * from loans join venues on code = house', ['loans.house = venues.code']];
        yield 'USING' => ['select * from loans l join items i using (ref, part) limit 3', ['l.ref = i.ref and l.part = i.part']];
        yield 'in WHERE' => ['select * from loans l, venues v where l.house = v.code and l.due > now() order by 1', ['l.house = v.code']];
        yield 'more conditions' => ["select * from loans l join venues v on v.code = l.house and v.town = 'Osmery' and l.due > 3", ['l.house = v.code']];
        yield 'OR is none' => ['select * from loans l join venues v on v.code = l.house or v.code = l.part', []];
        yield 'an expression is none' => ['select * from loans l join venues v on v.code = lower(l.house)', []];
        yield 'another comparison is none' => ['select * from loans l join venues v on v.code > l.house', []];
        yield 'within one table is none' => ['select * from loans l where l.house = l.part', []];
        yield 'a table with itself' => ['select * from loans a join loans b on a.ref = b.part', ['a.ref = b.part']];
        yield 'a query in brackets is left alone' => ['select * from loans l join (select code from venues v join items i on i.ref = v.code) x on x.code = l.house', []];
        yield 'LEFT as a function' => ['select left(l.house, 2) from loans l join venues v on v.code = l.house', ['l.house = v.code']];
        yield 'no join' => ['select * from loans', []];
        yield 'the first part of a union' => ['select 1 from loans l join venues v on v.code = l.house union select 2 from loans a join items b on a.ref = b.ref', ['l.house = v.code']];
    }

    /**
     * @param  list<string>  $wanted
     */
    #[DataProvider('statements')]
    public function test_the_joins_of_a_statement(string $sql, array $wanted): void
    {
        $known = new class implements KnownNames
        {
            public function tables(): array
            {
                return [];
            }

            public function columns(string $table): array
            {
                return ['loans' => ['ref' => '', 'part' => '', 'house' => '', 'due' => ''], 'venues' => ['code' => '', 'town' => ''], 'items' => ['loan' => '', 'ref' => '', 'part' => '']][$table] ?? [];
            }

            public function ties(string $table): array
            {
                return [];
            }
        };
        self::assertSame($wanted, array_map(static fn (JoinedPair $one): string => implode(' and ', array_map(static fn (array $pair): string => "{$one->left->alias}.$pair[0] = {$one->right->alias}.$pair[1]", $one->columns)).($one->keepsLeft ? ', left stays' : '').($one->keepsRight ? ', right stays' : ''), Joins::of($sql, $known)));
    }

    /**
     * @return iterable<string, array{list<string>, list<string>, string|null}>
     */
    public static function spellings(): iterable
    {
        yield 'zeros in front' => [['731', '9', 'x'], ['00731', '009', 'y'], '2 values of 3 that were looked at would match if leading zeros were ignored: "731" here, "00731" there.'];
        yield 'blanks' => [['NQ-1 '], ['NQ-1'], 'surrounding blanks'];
        yield 'letters' => [['nq-1', 'EB-2'], ['NQ-1', 'eb-2'], 'letter case'];
        yield 'a dash' => [["NQ\u{2013}1"], ['NQ-1'], 'dashes and inner blanks'];
        yield 'several at once' => [[' nq–007'], ['NQ-7', 'NQ007'], 'blanks, letter case, leading zeros and dashes'];
        yield 'nothing in common' => [['a'], ['b'], null];
        yield 'nothing there' => [['a'], [], null];
    }

    /**
     * @param  list<string>  $lone
     * @param  list<string>  $there
     */
    #[DataProvider('spellings')]
    public function test_what_is_written_otherwise_is_found(array $lone, array $there, ?string $says): void
    {
        $found = KeySpellings::between($lone, $there);
        $says === null ? self::assertSame([], $found) : self::assertStringContainsString($says, $found[0] ?? '');
    }
}
