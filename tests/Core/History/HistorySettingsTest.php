<?php

declare(strict_types=1);

namespace Tests\Core\History;

use App\Reservoir\MariaDb\VersionColumns;
use DeepSpring\Flatten\Plan;
use DeepSpring\History\HistorySettings;
use DeepSpring\History\InvalidHistory;
use DeepSpring\History\StateNames;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class HistorySettingsTest extends TestCase
{
    /**
     * @return iterable<string, array{array<string, mixed>, list<string>, list<string>, string}> settings, columns, key, words or part of the refusal
     */
    public static function settings(): iterable
    {
        yield 'states' => [['snapshots' => 7], ['id'], [], 'the last 7 states, for 365 days and'];
        yield 'one state' => [['snapshots' => 1, 'days' => 3, 'rows' => 10], ['id'], [], 'the last 1 state, for 3 days and 10 rows at most'];
        yield 'versions' => [['changes' => true, 'days' => 30], ['id', 'name'], ['id'], 'every version of every row, for 30 days and'];
        yield 'both' => [['snapshots' => 7, 'changes' => true], ['id'], ['id'], 'Say either'];
        yield 'neither' => [['days' => 3], ['id'], ['id'], 'Say either'];
        yield 'versions without a key' => [['changes' => true], ['id'], [], 'The table crates has no key'];
        yield 'a column of that name' => [['changes' => true], ['id', 'Valid_From'], ['id'], 'has a column Valid_From of its own'];
        yield 'a column of that name, and states' => [['snapshots' => 2], ['id', 'valid_to'], ['id'], 'the last 2 states'];
    }

    /**
     * @param  array<string, mixed>  $settings
     * @param  list<string>  $columns
     * @param  list<string>  $key
     */
    #[DataProvider('settings')]
    public function test_what_stays_is_said_or_why_it_cannot(array $settings, array $columns, array $key, string $expected): void
    {
        $plan = Plan::of(['table' => 'crates', 'key' => $key, 'columns' => array_map(static fn (string $name): array => ['name' => $name, 'from' => "$.$name"], $columns)]);
        try {
            $said = (string) HistorySettings::of($settings, $plan)?->words();
        } catch (InvalidHistory $invalid) {
            $said = $invalid->getMessage();
        }
        self::assertStringContainsString($expected, $said);
    }

    public function test_nothing_is_nothing(): void
    {
        self::assertNull(HistorySettings::of([], null));
    }

    public function test_states_have_names_that_nobody_has_and_that_fit(): void
    {
        $at = new \DateTimeImmutable('2030-05-03 12:00:00+02:00');
        $taken = ['loans__20300503_100000', 'loans__20300503_100000_2'];
        $is = static fn (string $name): bool => in_array($name, $taken, true);
        self::assertSame('loans__20300503_100000_3', StateNames::snapshot('loans', $at, $is));
        self::assertSame('loans__changes', StateNames::changes('loans', $is));
        $long = StateNames::snapshot(str_repeat('ø', 31).'ab', $at, $is);
        self::assertLessThanOrEqual(64, strlen($long));
        self::assertTrue(mb_check_encoding($long, 'UTF-8'));
        foreach (['loans__20300503_100000', 'loans__20300503_100000_3', 'loans__changes', 'x__changes_2', $long] as $name) {
            self::assertTrue(StateNames::mayBeOne($name), $name);
        }
        foreach (['loans', 'loans_20300503_100000', 'loans__2030', 'changes', 'loans__changes_x'] as $name) {
            self::assertFalse(StateNames::mayBeOne($name), $name);
        }
    }

    /**
     * @return iterable<string, array{string, string, string|null}>
     */
    public static function types(): iterable
    {
        yield 'texts' => ['varchar(64)', 'varchar(130)', 'varchar(130)'];
        yield 'a long text' => ['varchar(4000)', 'mediumtext', 'mediumtext'];
        yield 'JSON' => ['mediumtext', 'longtext', 'longtext'];
        yield 'whole numbers' => ['int(11)', 'bigint(20)', 'bigint(20)'];
        yield 'the same whole number' => ['int(11)', 'int(9)', 'int(11)'];
        yield 'decimals' => ['decimal(18,2)', 'decimal(11,6)', 'decimal(22,6)'];
        yield 'decimals beyond what there is' => ['decimal(60,2)', 'decimal(38,30)', null];
        yield 'a yes or no and a number' => ['tinyint(1)', 'int(11)', null];
        yield 'two yes or no' => ['tinyint(1)', 'tinyint(1)', 'tinyint(1)'];
        yield 'a text and a number' => ['varchar(64)', 'bigint(20)', null];
        yield 'a day and a moment' => ['date', 'datetime(6)', null];
        yield 'moments' => ['datetime(6)', 'datetime(6)', 'datetime(6)'];
        yield 'identifiers' => ['char(36)', 'varchar(64)', null];
    }

    #[DataProvider('types')]
    public function test_versions_hold_what_was_and_what_is(string $one, string $other, ?string $expected): void
    {
        self::assertSame($expected, VersionColumns::wider($one, $other));
        self::assertSame($expected, $expected === 'int(11)' ? VersionColumns::wider($one, $other) : VersionColumns::wider($other, $one));
    }
}
