<?php

declare(strict_types=1);

namespace Tests\Core\Flatten;

use DeepSpring\Answer\AnswerDefinition;
use DeepSpring\Flatten\Proposal\RecordsFinder;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class RecordsFinderTest extends TestCase
{
    /**
     * An answer, where its records are, how many they are.
     *
     * @return iterable<string, array{string, array<string, mixed>, int}>
     */
    public static function answers(): iterable
    {
        yield 'a list' => ['[{"id":1},{"id":2}]', ['records' => '$[*]'], 2];
        yield 'beside paging and links' => ['{"links":[{"rel":"next","href":"/x"}],"data":[{"id":1}],"meta":{"total":1}}', ['records' => '$.data[*]'], 1];
        yield 'beside what was included' => ['{"data":[{"type":"loan","id":"1"}],"included":[{"type":"house","id":"a"},{"type":"house","id":"b"},{"type":"house","id":"c"}]}', ['records' => '$.data[*]'], 1];
        yield 'beside errors that are more' => ['{"warnings":[{"code":1},{"code":2},{"code":3}],"loans":[{"id":1}]}', ['records' => '$.loans[*]'], 1];
        yield 'deep below' => ['{"response":{"status":"ok","result":{"loans":[{"id":1},{"id":2}]}}}', ['records' => '$.response.result.loans[*]'], 2];
        yield 'as OData 2 wraps them' => ['{"d":{"results":[{"Id":1}],"__next":"x"}}', ['records' => '$.d.results[*]'], 1];
        yield 'edges and nodes' => ['{"data":{"loans":{"edges":[{"cursor":"a","node":{"id":1}}],"pageInfo":{"hasNextPage":false}}}}', ['records' => '$.data.loans.edges[*]'], 1];
        yield 'objects under their ids' => ['{"as_of":"2031-03-02","by_house":{"north-quay":{"loans":3,"open":1},"harrow-mill":{"loans":2,"open":0},"long-gallery":{"loans":9,"open":4}}}', ['records' => '$.by_house.*'], 3];
        yield 'objects under numbers' => ['{"8812":{"ref":"NQ-1","due":null},"8813":{"ref":"NQ-2","due":"2031-03-02"},"8814":{"ref":"NQ-3","due":null}}', ['records' => '$.*'], 3];
        yield 'rows with names elsewhere' => ['{"meta":{"columns":[{"name":"account"},{"name":"booked"}]},"data":[["a",1],["b",2]]}', ['rows' => ['names' => '$.meta.columns[*].name', 'data' => '$.data[*]']], 2];
        yield 'rows with plain names' => ['{"fields":["a","b"],"rows":[[1,2]]}', ['rows' => ['names' => '$.fields[*]', 'data' => '$.rows[*]']], 1];
        yield 'rows whose first are the names' => ['[["name","count"],["North Quay",3],["Harrow Mill",2]]', ['rows' => ['names' => '$[0][*]', 'data' => '$[1:]']], 2];
        yield 'rows without names' => ['[[1,2],[3,4]]', ['records' => '$[*]'], 2];
        yield 'one record' => ['{"id":8812,"ref":"NQ-1","items":[{"line":1},{"line":2}]}', [], 1];
        yield 'one record without a name' => ['{"temperature":19.5,"humidity":48}', [], 1];
        yield 'one record with a number of its own' => ['{"number":8812,"borrower":"Gull Tower","items":[{"line":1},{"line":2}]}', [], 1];
        yield 'one record with a code of its own' => ['{"code":"NQ-1","message":"Handle with care","items":[{"line":1},{"line":2}]}', [], 1];
        yield 'a page with its number' => ['{"content":[{"line":1},{"line":2}],"totalElements":300,"totalPages":30,"number":0,"size":10,"first":true,"last":false}', ['records' => '$.content[*]'], 2];
        yield 'a status with its code' => ['{"code":0,"message":"ok","data":[{"line":1},{"line":2}]}', ['records' => '$.data[*]'], 2];
        yield 'a status whose code is a text' => ['{"code":"200","success":true,"loans":[{"line":1},{"line":2}]}', ['records' => '$.loans[*]'], 2];
        yield 'values' => ['["north-quay","harrow-mill"]', ['records' => '$[*]'], 2];
        yield 'an empty list beside others' => ['{"items":[],"houses":[{"id":1}]}', ['records' => '$.houses[*]'], 1];
    }

    /**
     * @param  array<string, mixed>  $answer
     */
    #[DataProvider('answers')]
    public function test_the_records_are_found_and_said_why(string $document, array $answer, int $count): void
    {
        $decoded = json_decode($document);
        $found = (new RecordsFinder)->find($decoded);
        self::assertSame($answer, $found[0]->answer, $found[0]->why);
        self::assertNotSame('', $found[0]->why);
        self::assertSame($count, $found[0]->count);
        self::assertCount($count, AnswerDefinition::of($answer)->records($decoded));
    }

    public function test_what_holds_nothing_has_no_records(): void
    {
        foreach (['[]', '"x"', '5', 'null'] as $document) {
            self::assertSame([], (new RecordsFinder)->find(json_decode($document)));
        }
    }
}
