<?php

declare(strict_types=1);

namespace Tests\Core\Describe;

use DeepSpring\Ask\EndpointRole;
use DeepSpring\Describe\EndpointNames;
use DeepSpring\Describe\Slugs;
use DeepSpring\Flatten\Proposal\AnswerColumns;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class ColumnsTest extends TestCase
{
    /**
     * @return iterable<string, array{string, string|null}>
     */
    public static function answers(): iterable
    {
        yield 'a list' => ['[{"id": 1}]', '$[*]'];
        yield 'a list of values' => ['[1, 2]', '$[*]'];
        yield 'an empty list' => ['[]', null];
        yield 'a wrapper' => ['{"data": [{"id": 1}], "next": null}', '$.data[*]'];
        yield 'a wrapper of another name' => ['{"positions": [{"id": 1}], "page": 1, "pages": 8}', '$.positions[*]'];
        yield 'two lists, one with a usual name' => ['{"errors": [{"a": 1}, {"a": 2}], "items": [{"id": 1}]}', '$.items[*]'];
        yield 'two lists, the longer' => ['{"loans": [{"a": 1}, {"a": 2}], "houses": [{"b": 1}]}', '$.loans[*]'];
        yield 'a wrapper in a wrapper' => ['{"data": {"loans": [{"a": 1}]}}', '$.data.loans[*]'];
        yield 'a record with lists of its own' => ['{"id": 8812, "items": [{"line": 1}]}', null];
        yield 'an object without lists' => ['{"a": 1}', null];
        yield 'a name with signs' => ['{"the loans": [{"a": 1}]}', "$['the loans'][*]"];
        yield 'a value' => ['"x"', null];
    }

    #[DataProvider('answers')]
    public function test_the_records_of_an_answer_are_found(string $answer, ?string $path): void
    {
        self::assertSame($path, AnswerColumns::recordsIn(json_decode($answer)));
    }

    public function test_names_and_slugs(): void
    {
        self::assertSame(['Loans', 'One loan', 'Create a loan', 'Change an object', 'Delete a body', 'Close a loan'], [
            EndpointNames::of(EndpointRole::List, '/v2/loans'), EndpointNames::of(EndpointRole::Get, '/loans/{id}'), EndpointNames::of(EndpointRole::Create, '/loans'), EndpointNames::of(EndpointRole::Update, '/objects/{id}'), EndpointNames::of(EndpointRole::Delete, '/bodies/{id}'), EndpointNames::of(EndpointRole::Call, '/loans/{id}/close'),
        ]);
        $slugs = new Slugs(['loans']);
        self::assertSame(['loans-2', 'list-loans', 'get-http-log', 'prets', 'endpoint', 'endpoint-2'], array_map($slugs->take(...), ['Loans', 'listLoans', 'getHTTPLog', 'Prêts', '???', '!']));
    }
}
