<?php

declare(strict_types=1);

namespace Tests\Core\Suggest;

use DeepSpring\Answer\JsonDecoder;
use DeepSpring\Onward\Detect\PagingProposal;
use DeepSpring\Suggest\PagingTrial;
use DeepSpring\Suggest\RecordsSuggestion;
use DeepSpring\Suggest\Suggestion;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class SuggestTest extends TestCase
{
    /**
     * @return iterable<string, array{string, array<string, mixed>|null, string, bool}> answer; what is suggested; a part of the reason or the question; whether it is one record
     */
    public static function answers(): iterable
    {
        yield 'a list' => ['[{"id": 1, "to": "a"}, {"id": 2, "to": "b"}]', ['records' => '$[*]'], 'the answer is a list of 2 objects', false];
        yield 'a list that is named as lists are' => ['{"data": [{"id": 1}], "meta": {"page": 1}}', ['records' => '$.data[*]'], 'named "data"', false];
        yield 'side lists are none' => ['{"items": [{"id": 1}], "errors": [{"code": 1}], "links": [{"rel": "next"}]}', ['records' => '$.items[*]'], 'named "items"', false];
        yield 'two that are alike' => ['{"loans": [{"a": 1, "b": 2}], "returns": [{"a": 1, "b": 2}]}', null, 'Several parts of the answer may be the records: $.loans[*] (1 record), $.returns[*] (1 record)', false];
        yield 'a record with its lines' => ['{"id": 7, "due": "2031-03-02", "lines": [{"no": 1}, {"no": 2}]}', [], 'the answer is one record', true];
        yield 'an object without a list' => ['{"service": "Loans", "version": "1"}', [], 'the whole answer as one record', true];
        yield 'rows and names apart' => ['{"columns": ["a", "b"], "data": [[1, 2], [3, 4]]}', ['rows' => ['names' => '$.columns[*]', 'data' => '$.data[*]']], 'whose 2 names are at $.columns[*]', false];
        yield 'an empty list' => ['[]', null, 'The answer is an empty list', false];
        yield 'a number' => ['7', null, 'The answer holds no records', false];
    }

    /**
     * @param  array<string, mixed>|null  $expected
     */
    #[DataProvider('answers')]
    public function test_records_are_suggested_only_where_one_place_is_clearly_the_likeliest(string $answer, ?array $expected, string $said, bool $isOne): void
    {
        $found = RecordsSuggestion::of(JsonDecoder::decode($answer));
        self::assertSame($expected, $found->suggestion?->value);
        self::assertStringContainsString($said, $found->suggestion->reason ?? (string) $found->question);
        self::assertSame($isOne, $found->isOne);
        self::assertSame($expected === null, $found->question !== null);
        foreach ($found->suggestion->others ?? [] as $other) {
            self::assertNotSame($expected, $other['value'], 'what is suggested is no other choice');
        }
    }

    /**
     * @return iterable<string, array{list<array{string, int}>, list<array{list<int>, string|null}>, string|null, string}> proposals with their weight; what comes of each; the style that is suggested; what is said
     */
    public static function trials(): iterable
    {
        yield 'the first proves itself' => [[['cursor', 92], ['offset', 60]], [[[20, 20], null]], 'cursor', 'The second page came with 20 records and is not the first again.'];
        yield 'the second does' => [[['offset', 92], ['cursor', 60]], [[[20], 'the same page came again.'], [[20, 10], null]], 'cursor', 'The second page came with 10 records'];
        yield 'the list ends with its first page' => [[['next-link', 94]], [[[7], null]], 'next-link', 'nothing has proved it yet'];
        yield 'none does' => [[['offset', 92], ['cursor', 60]], [[[20], 'The same page came again.'], [[20, 0], null]], null, 'did not work: Offset with skip: the same page came again; Cursor with skip: the second page was empty. 400 are said to be there. Set it under Onward'];
        yield 'one that is hardly likely is not tried' => [[['offset', 40]], [], null, 'How the rest is asked for could not be told. 400 are said to be there.'];
        yield 'three are tried at most' => [[['offset', 92], ['cursor', 91], ['page', 90], ['next-link', 89]], [[[1], 'no'], [[1], 'no'], [[1], 'no']], null, 'did not work'];
    }

    /**
     * @param  list<array{string, int}>  $proposals
     * @param  list<array{list<int>, string|null}>  $came
     */
    #[DataProvider('trials')]
    public function test_what_proves_itself_is_suggested(array $proposals, array $came, ?string $style, string $said): void
    {
        $trial = new PagingTrial(self::proposals($proposals), ['400 are said to be there']);
        foreach ($came as $number => [$records, $fault]) {
            self::assertSame($proposals[$number][0], $trial->next()?->onward['style']);
            $trial->came($records, $fault);
        }
        self::assertNull($trial->next());
        self::assertSame($style, $trial->suggestion()->value['style'] ?? null);
        self::assertStringContainsString($said, $trial->suggestion()->reason ?? (string) $trial->question());
        self::assertSame($style === null, $trial->question() !== null);
    }

    public function test_without_a_second_request_only_a_sure_sign_is_suggested(): void
    {
        foreach ([[92, 'cursor'], [60, null]] as [$weight, $style]) {
            $trial = new PagingTrial(self::proposals([['cursor', $weight]]));
            $trial->withoutTrying();
            self::assertNull($trial->next());
            self::assertSame($style, $trial->suggestion()->value['style'] ?? null);
            self::assertSame($style, $trial->untried()->onward['style'] ?? null);
        }
        self::assertNull((new PagingTrial([]))->question(), 'where nothing speaks of more, nothing is asked');
    }

    public function test_a_suggestion_stands_until_the_setting_is_changed(): void
    {
        $endpoint = ['answer' => ['records' => '$.data[*]', 'format' => 'json'], 'onward' => ['style' => 'cursor', 'next' => '$.next', 'size' => 50], 'flatten' => ['table' => 'loans', 'key' => ['id'], 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer']]], 'keep' => ['inputs' => ['status' => 'open'], 'refresh' => ['every' => 'manual']]];
        $other = ['records' => ['records' => '$.items[*]'], 'onward' => ['style' => 'none'], 'table' => 'loans_2', 'key' => [], 'inputs' => ['status' => ['open', 'out']]];
        foreach (array_keys(Suggestion::PLACES) as $place) {
            $kept = json_decode((string) json_encode((new Suggestion($place, Suggestion::read($endpoint, $place), 'so'))->toArray()), true);
            $suggestion = Suggestion::of($kept);
            self::assertTrue($suggestion->stands($endpoint), $place);
            $changed = isset($other[$place]) ? Suggestion::put($endpoint, $place, $other[$place]) : array_replace_recursive($endpoint, ['flatten' => ['columns' => [['type' => 'text']]]]);
            self::assertFalse($suggestion->stands($changed), $place);
            if (isset($other[$place])) {
                self::assertSame($other[$place], Suggestion::read($changed, $place), $place);
                self::assertEquals($endpoint, Suggestion::put($changed, $place, $suggestion->value), "$place and back");
            }
        }
        self::assertArrayNotHasKey('answer', Suggestion::put(['answer' => ['records' => '$']], 'records', []));
        self::assertArrayNotHasKey('keep', Suggestion::put(['keep' => ['inputs' => ['a' => 1]]], 'inputs', []));
    }

    /**
     * @param  list<array{string, int}>  $proposals
     * @return list<PagingProposal>
     */
    private static function proposals(array $proposals): array
    {
        return array_map(static fn (array $one): PagingProposal => new PagingProposal(['style' => $one[0], 'send_as' => 'skip'], 'Something is there.', 'Proof.', $one[1]), $proposals);
    }
}
