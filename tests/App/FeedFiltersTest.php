<?php

declare(strict_types=1);

namespace Tests\App;

use DeepSpring\Feed\CannotFilter;
use DeepSpring\Feed\FeedColumn;
use DeepSpring\Feed\FilterSql;
use DeepSpring\OData\ODataVersion;
use Illuminate\Support\Facades\DB;

/**
 * Filters as MariaDB answers them, beside the same condition computed by other code over the same rows: nothing of the
 * application takes part in that but the filter's text.
 */
final class FeedFiltersTest extends AppTestCase
{
    private const NUMBERS = 3000;

    private const TEXTS = ['', 'a', 'A', 'a ', ' a', 'ab', 'ba', "it's", 'x%y', 'x_y', 'x\\y', 'é', 'É', 'É?', '00731', '731', "\u{1F6A2}"];

    private const TYPES = ['id' => 'integer', 'n' => 'integer', 'm' => 'integer', 'd' => 'decimal', 'f' => 'float', 's' => 'text', 't' => 'text', 'b' => 'boolean', 'day' => 'date', 'at' => 'datetime', 'clock' => 'time', 'g' => 'uuid'];

    /** @var list<array<string, string|null>> */
    private array $rows = [];

    private FilterSql $sql;

    protected function setUp(): void
    {
        parent::setUp();
        mt_srand(20310302);
        $keeper = DB::connection('keeper');
        $keeper->unprepared('use deep_spring_test_data_trial');
        $keeper->unprepared('create table filtered (id bigint not null primary key, n bigint null, m bigint null, d decimal(20,4) null, f double null, s varchar(40) null, t mediumtext null, b tinyint(1) null, day date null, at datetime(6) null, clock time(6) null, g char(36) null) default charset=utf8mb4 collate=utf8mb4_nopad_bin');
        for ($id = 1; $id <= 80; $id++) {
            $some = static fn (array $values): ?string => mt_rand(0, 4) === 0 ? null : (string) $values[mt_rand(0, count($values) - 1)];
            $this->rows[] = $row = [
                'id' => (string) $id, 'n' => $some([-3, -1, 0, 1, 2, 3, 7, 9007199254740993]), 'm' => $some([-2, 0, 1, 2, 3]), 'd' => $some(['-1.5000', '0.0000', '0.1000', '2.0000', '2.5000', '12345678901234.5678']), 'f' => $some(['-2.5', '0', '0.5', '1.5', '2', '3.25']),
                's' => $some(self::TEXTS), 't' => $some(self::TEXTS), 'b' => $some([0, 1]), 'day' => $some(['2030-12-31', '2031-01-01', '2031-02-28']), 'at' => $some(['2030-12-31 23:59:59.999999', '2031-01-01 00:00:00.000000', '2031-02-28 12:30:15.250000']),
                'clock' => $some(['00:00:00.000000', '09:30:00.000000', '23:59:59.500000']), 'g' => $some(['0a1b2c3d-0000-1111-2222-333344445555', 'ffffffff-0000-1111-2222-333344445555']),
            ];
            $keeper->table('filtered')->insert($row);
        }
        $columns = array_map(static fn (string $name, string $type): FeedColumn => new FeedColumn($name, $type, $type === 'decimal' ? 4 : null, $name === 'id'), array_keys(self::TYPES), self::TYPES);
        $this->sql = new FilterSql($columns, ODataVersion::V4, new \DateTimeImmutable('2031-01-15T00:00:00Z'));
    }

    public function test_filters_let_through_what_other_code_lets_through(): void
    {
        $asked = $refused = $some = 0;
        for ($number = 0; $number < self::NUMBERS; $number++) {
            [$text, $holds] = $this->condition(mt_rand(1, 3));
            try {
                $condition = $this->sql->condition($text);
            } catch (CannotFilter $cannot) {
                self::fail("$text: {$cannot->getMessage()}");
            }
            $found = DB::connection('keeper')->select("select id from filtered where $condition->sql order by id", $condition->values, false);
            $expected = array_values(array_filter($this->rows, static fn (array $row): bool => $holds($row) === true));
            self::assertSame(array_column($expected, 'id'), array_map(static fn (object $row): string => (string) $row->id, $found), "$text\n$condition->sql\n".json_encode($condition->values));
            $asked++;
            $some += $expected !== [] && count($expected) < count($this->rows) ? 1 : 0;
        }
        self::assertSame(self::NUMBERS, $asked);
        // Most of them tell rows apart, or nothing would have been compared.
        self::assertGreaterThan(self::NUMBERS * 0.6, $some);
    }

    /**
     * A condition, and the same as code over a row: true, false, or null for unknown, which only a column of truth gives.
     *
     * @return array{string, \Closure(array<string, string|null>): ?bool}
     */
    private function condition(int $depth): array
    {
        $kind = $depth <= 0 ? mt_rand(3, 9) : mt_rand(0, 9);
        if ($kind === 0) {
            [$text, $holds] = $this->condition($depth - 1);

            return ["not ($text)", static fn (array $row): ?bool => ($value = $holds($row)) === null ? null : ! $value];
        }
        if ($kind <= 2) {
            [$left, $one] = $this->condition($depth - 1);
            [$right, $other] = $this->condition($depth - 1);
            $isAnd = $kind === 1;

            return ['('.$left.') '.($isAnd ? 'and' : 'or')." ($right)", static function (array $row) use ($one, $other, $isAnd): ?bool {
                $values = [$one($row), $other($row)];
                if (in_array(! $isAnd, $values, true)) {
                    return ! $isAnd;
                }

                return in_array(null, $values, true) ? null : $isAnd;
            }];
        }

        return match ($kind) {
            3 => ['b', static fn (array $row): ?bool => $row['b'] === null ? null : $row['b'] === '1'],
            4 => $this->among(),
            5 => $this->ofTexts(),
            default => $this->comparison(),
        };
    }

    /**
     * @return array{string, \Closure}
     */
    private function among(): array
    {
        $values = array_map(static fn (): ?string => mt_rand(0, 5) === 0 ? null : self::TEXTS[mt_rand(0, count(self::TEXTS) - 1)], range(1, mt_rand(1, 4)));

        return ['s in ('.implode(', ', array_map(self::quoted(...), $values)).')', static fn (array $row): bool => in_array($row['s'], $values, true)];
    }

    /**
     * @return array{string, \Closure}
     */
    private function ofTexts(): array
    {
        [$part, $valueOf] = $this->text();
        [$name, $does] = [
            ['contains', static fn (string $in, string $what): bool => str_contains($in, $what)], ['startswith', static fn (string $in, string $what): bool => str_starts_with($in, $what)], ['endswith', static fn (string $in, string $what): bool => str_ends_with($in, $what)],
        ][mt_rand(0, 2)];
        [$over, $of] = $this->text();

        return ["$name($over, $part)", static function (array $row) use ($does, $of, $valueOf): ?bool {
            $in = $of($row);
            $what = $valueOf($row);

            return $in === null || $what === null ? null : $does($in, $what);
        }];
    }

    /**
     * @return array{string, \Closure(array<string, string|null>): ?string}
     */
    private function text(int $depth = 1): array
    {
        $kind = mt_rand(0, $depth > 0 ? 6 : 2);
        if ($kind === 0) {
            $value = self::TEXTS[mt_rand(0, count(self::TEXTS) - 1)];

            return [self::quoted($value), static fn (): string => $value];
        }
        if ($kind <= 2) {
            $name = ['s', 't'][mt_rand(0, 1)];

            return [$name, static fn (array $row): ?string => $row[$name]];
        }
        [$inner, $of] = $this->text($depth - 1);
        if ($kind === 3) {
            [$other, $ofOther] = $this->text($depth - 1);

            return ["concat($inner, $other)", static fn (array $row): ?string => $of($row) === null || $ofOther($row) === null ? null : $of($row).$ofOther($row)];
        }
        $at = mt_rand(0, 3);
        [$name, $does] = [['tolower', mb_strtolower(...)], ['toupper', mb_strtoupper(...)], ['substring', static fn (string $text): string => mb_substr($text, $at)]][$kind - 4];

        return [$kind === 6 ? "substring($inner, $at)" : "$name($inner)", static fn (array $row): ?string => ($text = $of($row)) === null ? null : $does($text)];
    }

    /**
     * @return array{string, \Closure}
     */
    private function comparison(): array
    {
        $operator = ['eq', 'ne', 'gt', 'ge', 'lt', 'le'][mt_rand(0, 5)];
        [$make, $compare] = [
            [fn (): array => $this->number(), static fn (string $a, string $b): int => bccomp($a, $b, 30)],
            [fn (): array => $this->text(), strcmp(...)],
            [fn (): array => $this->one('day', ['2030-12-31', '2031-01-01']), strcmp(...)],
            [fn (): array => $this->one('at', ['2031-01-01T00:00:00Z' => '2031-01-01 00:00:00.000000', '2031-02-28T13:30:15.25+01:00' => '2031-02-28 12:30:15.250000', 'now()' => '2031-01-15 00:00:00.000000']), strcmp(...)],
            [fn (): array => $this->one('clock', ['09:30' => '09:30:00.000000', '23:59:59.5' => '23:59:59.500000']), strcmp(...)],
            [fn (): array => $this->one('g', ['0A1B2C3D-0000-1111-2222-333344445555' => '0a1b2c3d-0000-1111-2222-333344445555']), strcmp(...)],
        ][mt_rand(0, 5)];
        [$left, $a] = $make();
        [$right, $b] = mt_rand(0, 7) === 0 ? ['null', static fn (): ?string => null] : $make();

        return ["$left $operator $right", static function (array $row) use ($operator, $a, $b, $compare): bool {
            [$one, $other] = [$a($row), $b($row)];
            if ($one === null || $other === null) {
                $isSame = $one === $other;

                return match ($operator) {
                    'eq', 'ge', 'le' => $isSame,
                    'ne' => ! $isSame,
                    default => false,
                };
            }
            $difference = $compare($one, $other);

            return match ($operator) {
                'eq' => $difference === 0, 'ne' => $difference !== 0, 'gt' => $difference > 0, 'ge' => $difference >= 0, 'lt' => $difference < 0, default => $difference <= 0,
            };
        }];
    }

    /**
     * A column or one of some literals.
     *
     * @param  array<int|string, string>  $literals  as written → as kept
     * @return array{string, \Closure(array<string, string|null>): ?string}
     */
    private function one(string $column, array $literals): array
    {
        if (mt_rand(0, 1) === 0) {
            return [$column, static fn (array $row): ?string => $row[$column]];
        }
        $written = array_rand($literals);
        $kept = $literals[$written];

        return [is_int($written) ? $kept : $written, static fn (): string => $kept];
    }

    /**
     * @return array{string, \Closure(array<string, string|null>): ?string}
     */
    private function number(int $depth = 1): array
    {
        $kind = mt_rand(0, $depth > 0 ? 8 : 3);
        if ($kind <= 1) {
            $name = ['id', 'n', 'm', 'd'][mt_rand(0, 3)];

            return [$name, static fn (array $row): ?string => $row[$name]];
        }
        if ($kind <= 3) {
            $value = ['0', '1', '-1', '2.5', '0.1000', '12345678901234.5678', '9007199254740993', '00002'][mt_rand(0, 7)];

            return [$value, static fn (): string => $value];
        }
        if ($kind === 4) {
            [$inner, $of] = $this->text(0);

            return ["length($inner)", static fn (array $row): ?string => ($text = $of($row)) === null ? null : (string) mb_strlen($text)];
        }
        if ($kind === 5) {
            [$inner, $of] = $this->text(0);
            [$part, $ofPart] = $this->text(0);

            return ["indexof($inner, $part)", static fn (array $row): ?string => $of($row) === null || $ofPart($row) === null ? null : (string) (($at = mb_strpos((string) $of($row), (string) $ofPart($row))) === false ? -1 : $at)];
        }
        if ($kind === 6) {
            $name = ['year', 'month', 'day'][mt_rand(0, 2)];
            $column = ['day', 'at'][mt_rand(0, 1)];

            return ["$name($column)", static fn (array $row): ?string => $row[$column] === null ? null : (string) (int) explode('-', substr((string) $row[$column], 0, 10))[['year' => 0, 'month' => 1, 'day' => 2][$name]]];
        }
        $column = ['id', 'm', 'd'][mt_rand(0, 2)];
        [$other, $ofOther] = [['2', static fn (): string => '2'], ['m', static fn (array $row): ?string => $row['m']]][mt_rand(0, 1)];
        [$operator, $does] = [['add', static fn (string $a, string $b): string => bcadd($a, $b, 20)], ['sub', static fn (string $a, string $b): string => bcsub($a, $b, 20)], ['mul', static fn (string $a, string $b): string => bcmul($a, $b, 20)]][mt_rand(0, 2)];

        return ["$column $operator $other", static fn (array $row): ?string => $row[$column] === null || $ofOther($row) === null ? null : $does((string) $row[$column], (string) $ofOther($row))];
    }

    private static function quoted(?string $value): string
    {
        return $value === null ? 'null' : "'".str_replace("'", "''", $value)."'";
    }
}
