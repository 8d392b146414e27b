<?php

declare(strict_types=1);

namespace Tests\Core\Flatten;

use Brick\Math\BigDecimal;
use DeepSpring\Answer\AnswerDefinition;
use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Proposal\Proposer;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * A proposal keeps every value that it was made from, digit for digit.
 */
final class ProposedDigitsTest extends TestCase
{
    private const SEEDS = 1500;

    public function test_every_sampled_value_passes_its_own_proposal(): void
    {
        $cells = 0;
        $types = [];
        for ($seed = 1; $seed <= self::SEEDS; $seed++) {
            mt_srand($seed);
            $kinds = array_map(static fn (): int => mt_rand(0, 13), range(1, mt_rand(1, 3)));
            $literals = array_map(fn (): string => $this->literal($kinds[mt_rand(0, count($kinds) - 1)]), range(1, mt_rand(1, 12)));
            $name = ['v', 'price', 'count', 'created_at', 'is_open', 'latitude'][mt_rand(0, 5)];
            $body = '['.implode(',', array_map(static fn (int $id, string $literal): string => "{\"id\":\"x-$id\",\"$name\":$literal}", array_keys($literals), $literals)).']';
            $page = AnswerDefinition::of(['records' => '$[*]'])->page(json_decode($body, false, 512, JSON_BIGINT_AS_STRING), $body);
            $proposal = (new Proposer)->propose($page->written(), 'loans');
            $column = array_values(array_filter($proposal->flatten['columns'], static fn (array $one): bool => ($one['from'] ?? '') === "$.$name"))[0] ?? self::fail("seed $seed: the column is gone");
            $place = array_search($column, $proposal->flatten['columns'], true);
            $batch = (new Flattener(Plan::of($proposal->flatten)))->flatten($page);
            self::assertSame([], array_map(static fn (object $reject): string => "$reject->value: $reject->reason", $batch->rejects), "seed $seed: ".json_encode($column)." of $body");
            self::assertCount(count($literals), $batch->rows[0]);
            $types[$column['type']] = ($types[$column['type']] ?? 0) + 1;
            foreach ($batch->rows[0] as $number => $row) {
                $cells++;
                $this->assertKept($literals[$number], $row[$place], $column, "seed $seed: {$literals[$number]} as ".json_encode($column).' is '.json_encode($row[$place]));
            }
        }
        self::assertGreaterThan(8_000, $cells);
        foreach (['text', 'integer', 'decimal', 'float'] as $type) {
            self::assertGreaterThan(40, $types[$type] ?? 0, "few columns are $type: ".json_encode($types));
        }
    }

    /**
     * @return iterable<string, array{string, array<string, mixed>, string|null}>
     */
    public static function proposals(): iterable
    {
        yield 'more digits than a float has' => ['[12345678901234567890.123456789012,0.12345678901234567]', ['type' => 'decimal', 'scale' => 17], null];
        yield 'more than 38 digits' => ['[12345678901234567890123456.123456789012,0.12345678901234567]', ['type' => 'decimal', 'scale' => 17, 'precision' => 43], null];
        yield 'more than a decimal holds' => ['[0.1234567890123456789012345678901234,1]', ['type' => 'text'], 'has more digits than a decimal holds, so it is kept as text'];
        yield 'less than a float can say' => ['[1e-400,1]', ['type' => 'text'], 'has more digits than a decimal holds, so it is kept as text'];
        yield 'more than a float can say' => ['[1e400]', ['type' => 'text'], 'has more digits than a decimal holds, so it is kept as text'];
        yield 'exponents' => ['[1.5e-7,2]', ['type' => 'float'], 'is written with an exponent in places, as floats are'];
        yield 'computed in floats' => ['[0.30000000000000004,59.3]', ['type' => 'float'], 'has up to 17 digits, as floats are written; each that was seen stays the same as one'];
        yield 'a float beside a whole number that it does not hold' => ['[0.30000000000000004,9007199254740993]', ['type' => 'decimal', 'scale' => 17], null];
        yield 'whole numbers beyond 64 bits' => ['[12345678901234567890,1]', ['type' => 'decimal', 'scale' => 0], 'is beyond 64 bits in places'];
        yield 'texts beyond 64 bits' => ['["12345678901234567890","1"]', ['type' => 'text'], '12345678901234567890 is beyond 64 bits'];
        yield 'texts of decimals beyond 38 digits' => ['["123456789012345678901.123456789012345678"]', ['type' => 'decimal', 'scale' => 18, 'precision' => 39], 'comes as text'];
        yield 'texts below a float' => ['["1e-400","2"]', ['type' => 'text'], 'numbers with more digits than a decimal holds, so they are kept as text'];
        yield 'minus zero' => ['[-0,5]', ['type' => 'integer'], null];
    }

    /**
     * @param  array<string, mixed>  $wanted
     */
    #[DataProvider('proposals')]
    public function test_numbers_get_the_type_that_keeps_their_digits(string $values, array $wanted, ?string $note): void
    {
        preg_match_all('/"[^"]*"|[^\[\],]+/', $values, $literals);
        $body = '['.implode(',', array_map(static fn (string $literal): string => "{\"v\":$literal}", $literals[0])).']';
        $page = AnswerDefinition::of(['records' => '$[*]'])->page(json_decode($body, false, 512, JSON_BIGINT_AS_STRING), $body);
        $proposal = (new Proposer)->propose($page->written(), 'loans');
        self::assertSame([$wanted, $note], [array_diff_key($proposal->flatten['columns'][0], ['name' => 1, 'from' => 1]), $proposal->notes['loans.v'] ?? null]);
    }

    private function literal(int $kind): string
    {
        $digits = static fn (int $most): string => implode('', array_map(static fn (): int => mt_rand(0, 9), range(1, mt_rand(1, $most))));
        $whole = static fn (int $most): string => (mt_rand(0, 4) === 0 ? '-' : '').(mt_rand(0, 3) === 0 ? '0' : mt_rand(1, 9).$digits($most));

        return match ($kind) {
            0 => $whole(5), 1 => $whole(24), 2 => $whole(5).'.'.$digits(4), 3 => $whole(22).'.'.$digits(20), 4 => $whole(3).'.'.$digits(45),
            5 => $whole(2).'.'.$digits(3).['e', 'E'][mt_rand(0, 1)].['', '+', '-'][mt_rand(0, 2)].mt_rand(0, 30), 6 => $whole(3).'e'.['', '-'][mt_rand(0, 1)].mt_rand(280, 420),
            7 => (string) json_encode(mt_rand(1, 1_000_000) / 7.0), 8 => '"'.$whole(8).'"', 9 => '"'.$whole(22).'.'.$digits(22).'"', 10 => '"'.$whole(3).'e'.['', '-'][mt_rand(0, 1)].mt_rand(0, 400).'"',
            11 => (string) mt_rand(1893456000, 1900000000), 12 => '"'.number_format(mt_rand(0, 10_000_000) / 100, 2, ',', '.').'"', default => '-0',
        };
    }

    /**
     * @param  array<string, mixed>  $column
     */
    private function assertKept(string $literal, ?string $cell, array $column, string $message): void
    {
        $text = $literal[0] === '"' ? (string) json_decode($literal) : $literal;
        if ($column['type'] === 'text') {
            self::assertSame($text, $cell, $message);

            return;
        }
        self::assertNotNull($cell, $message);
        if (in_array($column['type'], ['integer', 'decimal', 'float'], true)) {
            $plain = isset($column['read_as']) ? strtr($text, $column['read_as'] === '1.234,5' ? ['.' => '', ',' => '.'] : [',' => '.']) : $text;
            self::assertTrue(BigDecimal::of($plain)->isEqualTo(BigDecimal::of($cell)), $message);
        }
    }
}
