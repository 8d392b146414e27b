<?php

declare(strict_types=1);

namespace Tests\Core\Answer;

use DeepSpring\Answer\Digits;
use DeepSpring\Answer\JsonPath\JsonPath;
use DeepSpring\Answer\Stream\JsonRecords;
use DeepSpring\Answer\UnreadableAnswer;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class StreamTest extends TestCase
{
    /**
     * A text, where the records are, and what is around them.
     *
     * @return iterable<string, array{string, string, string}>
     */
    public static function texts(): iterable
    {
        yield 'a list' => ['[{"a":1},{"a":2}]', '$[*]', '[]'];
        yield 'blanks everywhere' => [" [ { \"a\" : 1 } ,\n {\"a\":2}\t] \n", '$[*]', '[]'];
        yield 'an empty list' => ['{"data":[],"n":0}', '$.data[*]', '{"data":[],"n":0}'];
        yield 'in the middle' => ['{"as_of":"2031-03-02","x":{"data":[1]},"data":[{"a":[1,[2,{"b":"]},{"}]]}],"next":"c","total":1}', '$.data[*]', '{"as_of":"2031-03-02","x":{"data":[1]},"data":[],"next":"c","total":1}'];
        yield 'deep below' => ['{"r":{"n":5,"loans":[{"a":"\\"\\\\"},{"a":"é\u00e9"}],"z":true},"y":null}', '$.r.loans[*]', '{"r":{"n":5,"loans":[],"z":true},"y":null}'];
        yield 'values' => ['[1,"two",true,null,-3.5e2,[],{}]', '$[*]', '[]'];
        yield 'a name that is written otherwise' => ['{"d\u0061ta":[1]}', '$.data[*]', '{"data":[]}'];
        yield 'a mark before it' => ["\xEF\xBB\xBF[{\"a\":1}]", '$[*]', '[]'];
        yield 'texts that look like ends' => ['[{"a":"]"},{"b":"}],["},{"c":"\\\\"}]', '$[*]', '[]'];
    }

    #[DataProvider('texts')]
    public function test_records_are_those_of_the_whole_text_however_it_comes(string $text, string $path, string $around): void
    {
        $whole = JsonPath::parse($path)->values(json_decode((string) preg_replace('/^\xEF\xBB\xBF/', '', $text)));
        foreach ([1, 2, 3, 7, 1000] as $size) {
            $stream = $this->stream($text, $path, $size);
            $records = [];
            foreach ($stream->batches() as $batch) {
                array_push($records, ...$batch->values);
            }
            self::assertSame(json_encode($whole), json_encode($records), "in chunks of $size");
            self::assertSame(json_encode(json_decode($around)), json_encode($stream->envelope()));
            self::assertSame(count($whole), $stream->count);
        }
    }

    public function test_digits_are_kept_as_they_came(): void
    {
        foreach ($this->stream('[{"a":1.10},{"a":2.00}]', '$[*]', 5)->batches() as $batch) {
            foreach (array_keys($batch->values) as $index) {
                [$record, $digits] = $batch->exact($index) ?? [null, new Digits('null')];
                self::assertContains($digits->plain($record->a ?? null), ['1.10', '2.00']);
            }
        }
    }

    public function test_a_broken_record_costs_only_itself(): void
    {
        $stream = $this->stream('[{"a":1},{"a":"\ud83d"},{"a":tru},{"a":2}]', '$[*]', 9);
        $records = [];
        foreach ($stream->batches() as $batch) {
            array_push($records, ...$batch->values);
        }
        self::assertSame('[{"a":1},{"a":2}]', json_encode($records));
        self::assertSame(['record 2', 'record 3'], array_column($stream->bad, 'place'));
        self::assertStringContainsString('surrogate', $stream->bad[0]->reason);
    }

    /**
     * @return iterable<string, array{string, string, string}>
     */
    public static function broken(): iterable
    {
        yield 'no such name' => ['{"items":[1]}', '$.data[*]', 'no array at $.data'];
        yield 'no array there' => ['{"data":{"a":1}}', '$.data[*]', 'no array at $.data'];
        yield 'cut in a record' => ['{"data":[{"a":1},{"a":', '$.data[*]', 'after record 1'];
        yield 'cut between records' => ['{"data":[{"a":1},', '$.data[*]', 'ends after record 1'];
        yield 'no JSON' => ['<html>', '$[*]', 'web page'];
        yield 'nonsense between records' => ['[{"a":1} {"a":2}]', '$[*]', 'no JSON any more'];
        yield 'nested too deeply' => ['['.str_repeat('[', 200_000).str_repeat(']', 200_000).']', '$[*]', 'nested too deeply'];
    }

    #[DataProvider('broken')]
    public function test_what_cannot_be_read_is_said_clearly(string $text, string $path, string $why): void
    {
        $this->expectException(UnreadableAnswer::class);
        $this->expectExceptionMessage($why);
        iterator_to_array($this->stream($text, $path, 100_000)->batches(), false);
    }

    public function test_what_is_around_must_be_json_too(): void
    {
        $stream = $this->stream('{"data":[1],"next":', '$.data[*]', 100);
        iterator_to_array($stream->batches(), false);
        $this->expectException(UnreadableAnswer::class);
        $stream->envelope();
    }

    public function test_only_a_path_of_names_can_be_followed(): void
    {
        $read = static fn (int $bytes): string => '';
        foreach (['$.a[0:5]', '$..a[*]', '$.a.*', '$.a[?@.b][*]', '$'] as $path) {
            self::assertNull(JsonRecords::of($read, JsonPath::parse($path)));
        }
        self::assertNull(JsonRecords::of($read, null));
    }

    public function test_memory_does_not_grow_with_the_text(): void
    {
        $record = json_encode(['a' => str_repeat('x', 500), 'b' => range(1, 40)]);
        $left = 40_000;
        $isOpen = false;
        $read = static function (int $bytes) use (&$left, &$isOpen, $record): string {
            if ($left === 0) {
                return '';
            }
            $take = min($left, 1000);
            $left -= $take;
            $text = ($isOpen ? ',' : '[').implode(',', array_fill(0, $take, $record)).($left === 0 ? ']' : '');
            $isOpen = true;

            return $text;
        };
        memory_reset_peak_usage();
        $before = memory_get_usage();
        $count = 0;
        foreach (JsonRecords::of($read, JsonPath::parse('$[*]'))?->batches() ?? [] as $batch) {
            $count += count($batch->values);
        }
        self::assertSame(40_000, $count);
        self::assertLessThan(60_000_000, memory_get_peak_usage() - $before);
    }

    private function stream(string $text, string $path, int $size): JsonRecords
    {
        $at = 0;
        $stream = JsonRecords::of(static function (int $bytes) use ($text, $size, &$at): string {
            $part = substr($text, $at, min($size, $bytes));
            $at += strlen($part);

            return $part;
        }, JsonPath::parse($path));

        return $stream ?? throw new \LogicException('The path cannot be followed.');
    }
}
