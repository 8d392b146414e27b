<?php

declare(strict_types=1);

namespace Tests\Core\Change;

use DeepSpring\Change\PartAnswer;
use DeepSpring\Change\PartAnswers;
use DeepSpring\SourceFile\EndpointDefinition;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class PartAnswersTest extends TestCase
{
    private const BY_ID = ['at' => '$.results[*]', 'status' => '$.status', 'body' => '$.body', 'match' => ['path' => '$.id', 'input' => 'id']];

    private const BY_ORDER = ['at' => '$.results[*]', 'status' => '$.status', 'body' => '$.body'];

    /**
     * Settings, the status and the body of the answer to the records 7, 8 and 9, and what it says of each: status and
     * body, "untouched", or null.
     *
     * @return iterable<string, array{array<string, mixed>, int, string, list<mixed>}>
     */
    public static function answers(): iterable
    {
        $three = '{"results":[{"id":9,"status":200,"body":{"id":9}},{"id":7,"status":422,"body":{"errors":[{"field":"due"}]}},{"id":8,"status":204}]}';
        yield 'matched by a value, in any order' => [self::BY_ID, 207, $three, [[422, '{"errors":[{"field":"due"}]}'], [204, ''], [200, '{"id":9}']]];
        yield 'matched by their order' => [self::BY_ORDER, 200, $three, [[200, '{"id":9}'], [422, '{"errors":[{"field":"due"}]}'], [204, '']]];
        yield 'one answer is missing' => [self::BY_ID, 207, '{"results":[{"id":9,"status":200},{"id":7,"status":200}]}', [[200, ''], null, [200, '']]];
        yield 'one answer is missing, and they have no names' => [self::BY_ORDER, 200, '{"results":[{"status":200},{"status":200}]}', [null, null, null]];
        yield 'two answers about one record' => [self::BY_ID, 207, '{"results":[{"id":7,"status":200},{"id":7,"status":422},{"id":8,"status":200},{"id":9,"status":200}]}', [null, [200, ''], [200, '']]];
        yield 'a stranger among them' => [self::BY_ID, 207, '{"results":[{"id":99,"status":500},{"id":7,"status":200},{"id":8,"status":200},{"id":9,"status":200}]}', [[200, ''], [200, ''], [200, '']]];
        yield 'names as texts' => [self::BY_ID, 207, '{"results":[{"id":"7","status":"200"},{"id":"8","status":"409"},{"id":"9","status":200}]}', [[200, ''], [409, ''], [200, '']]];
        yield 'a status that is none' => [self::BY_ID, 207, '{"results":[{"id":7,"status":"fine"},{"id":8},{"id":9,"status":2000}]}', [null, null, null]];
        yield 'digits stay' => [self::BY_ID, 200, '{"results":[{"id":7,"status":200,"body":{"n":12345678901234567890.10}},{"id":8,"status":200},{"id":9,"status":200}]}', [[200, '{"n":12345678901234567890.10}'], [200, ''], [200, '']]];
        $problems = ['at' => '$[*]', 'error' => '$.problem'];
        yield 'records and problems (RFC 9457)' => [$problems, 200, '[{"id":7},{"problem":{"status":409,"detail":"closed"}},{"problem":{"title":"wrong"}}]', [[200, '{"id":7}'], [409, '{"status":409,"detail":"closed"}'], [422, '{"title":"wrong"}']]];
        yield 'no list where one should be' => [self::BY_ID, 200, '{"ok":true}', [null, null, null]];
        yield 'no JSON' => [self::BY_ID, 200, '<html>', [null, null, null]];
        yield 'nothing is said of each' => [[], 200, '', [[200, ''], [200, ''], [200, '']]];
        yield 'the whole refused' => [self::BY_ID, 403, '{"message":"no"}', array_fill(0, 3, [403, '{"message":"no"}'])];
        yield 'errors that point into the list' => [[], 422, '{"title":"invalid","errors":[{"pointer":"/changes/1/due","detail":"is past"},{"pointer":"#/changes/1/note","detail":"is long"}]}', ['untouched', [422, '{"detail":"invalid","errors":[{"field":"due","detail":"is past"},{"field":"note","detail":"is long"}]}'], 'untouched']];
        yield 'and at a record as a whole' => [[], 400, '{"errors":{"changes[2]":["is closed"]}}', ['untouched', 'untouched', [400, '{"detail":"","errors":[{"detail":"is closed"}]}']]];
        yield 'a pointer beyond the list' => [[], 422, '{"errors":[{"pointer":"/changes/3/due","detail":"x"}]}', array_fill(0, 3, [422, '{"errors":[{"pointer":"/changes/3/due","detail":"x"}]}'])];
        yield 'a field that is no number' => [[], 422, '{"errors":[{"pointer":"/changes/first/due","detail":"x"}]}', array_fill(0, 3, [422, '{"errors":[{"pointer":"/changes/first/due","detail":"x"}]}'])];
    }

    /**
     * @param  array<string, mixed>  $parts
     * @param  list<mixed>  $expected
     */
    #[DataProvider('answers')]
    public function test_each_record_gets_its_answer(array $parts, int $status, string $body, array $expected): void
    {
        $endpoint = new EndpointDefinition(['slug' => 'many', 'name' => 'Many', 'does' => 'update', 'ask' => ['method' => 'POST', 'path' => '/many', 'inputs' => [['name' => 'id', 'in' => 'body']], 'body' => ['as' => 'json', 'of' => (object) ['changes' => [(object) ['id' => (object) ['input' => 'id']]]], 'each' => '$.changes']], 'answer' => $parts === [] ? [] : ['parts' => $parts]]);
        $answers = PartAnswers::of($endpoint)->split($status, $body, [['id' => ['7']], ['id' => ['8']], ['id' => ['9']]]);
        self::assertSame($expected, array_map(static fn (?PartAnswer $one): mixed => $one === null ? null : ($one->isUntouched ? 'untouched' : [$one->status, $one->body]), $answers));
    }
}
