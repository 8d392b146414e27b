<?php

declare(strict_types=1);

namespace Tests\Core\OData;

use DeepSpring\OData\Batch\BatchAnswer;
use DeepSpring\OData\Batch\BatchedRequest;
use DeepSpring\OData\Batch\BatchForm;
use DeepSpring\OData\Batch\ChangeBatch;
use DeepSpring\OData\Batch\JsonBatch;
use DeepSpring\OData\Batch\MultipartBatch;
use DeepSpring\OData\Batch\UnreadableBatch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class BatchTest extends TestCase
{
    /**
     * Each form, an answer in it to three requests, and something that is none.
     *
     * @return iterable<string, array{BatchForm, string, string, string}>
     */
    public static function forms(): iterable
    {
        yield 'JSON' => [new JsonBatch, 'application/json', '{"responses":[{"id":"b","status":404,"body":{"error":{"code":"x"}}},{"id":"a","status":200,"headers":{"content-type":"text/plain"},"body":24},{"id":"c","status":204},{"id":"stranger","status":200}]}', '{"value":[]}'];
        yield 'multipart' => [new MultipartBatch('ours'), 'multipart/mixed; boundary="their=bound"', "preamble\r\n", 'no multipart'];
    }

    #[DataProvider('forms')]
    public function test_answers_are_found_by_what_was_asked(BatchForm $form, string $type, string $body, string $other): void
    {
        if ($form instanceof MultipartBatch) {
            $piece = static fn (string $http): string => "--their=bound\r\nContent-Type: application/http\r\nContent-Transfer-Encoding: binary\r\n\r\n$http\r\n";
            $body = $piece("HTTP/1.1 200 OK\r\nContent-Type: text/plain\r\n\r\n24").$piece("HTTP/1.1 404 Not Found\r\nContent-Type: application/json\r\n\r\n{\"error\":{\"code\":\"x\"}}").$piece("HTTP/1.1 204 No Content\r\n\r\n").'--their=bound--';
        }
        $answers = $form->decode($type, $body, ['a', 'b', 'c']);
        ksort($answers);
        self::assertEquals(['a' => new BatchAnswer(200, '24'), 'b' => new BatchAnswer(404, '{"error":{"code":"x"}}'), 'c' => new BatchAnswer(204, '')], $answers);
        self::assertSame([true, false], [$answers['a']->isSuccess(), $answers['b']->isSuccess()]);
        $this->expectException(UnreadableBatch::class);
        $form->decode('text/html', $other, ['a']);
    }

    public function test_requests_are_written_as_the_specification_has_them(): void
    {
        $requests = ['a' => ['path' => 'Venues/$count', 'accept' => 'text/plain'], 'b' => ['path' => 'Objects/$count?$filter=OnLoan', 'accept' => 'text/plain']];
        self::assertSame('{"requests":[{"id":"a","method":"GET","url":"Venues/$count","headers":{"accept":"text/plain"}},{"id":"b","method":"GET","url":"Objects/$count?$filter=OnLoan","headers":{"accept":"text/plain"}}]}', (new JsonBatch)->encode($requests));
        $multipart = new MultipartBatch('edge');
        self::assertSame('multipart/mixed; boundary=edge', $multipart->contentType());
        self::assertSame("--edge\r\nContent-Type: application/http\r\nContent-Transfer-Encoding: binary\r\nContent-ID: a\r\n\r\nGET Venues/\$count HTTP/1.1\r\nAccept: text/plain\r\n\r\n\r\n", substr($multipart->encode($requests), 0, strpos($multipart->encode($requests), '--edge', 5) ?: 0));
        self::assertStringEndsWith("\r\n--edge--\r\n", $multipart->encode($requests));
    }

    public function test_changes_stand_in_change_sets_and_are_answered_one_by_one(): void
    {
        $requests = [new BatchedRequest('1', 'PATCH', 'Objects(1)', ['content-type' => 'application/json', 'if-match' => 'W/"a"'], '{"Title":"Ä"}'), new BatchedRequest('2', 'GET', 'Objects(2)'), new BatchedRequest('3', 'DELETE', 'Objects(3)')];
        $batch = new ChangeBatch('b');
        $body = $batch->encode($requests);
        // What reads comes first, so that units and answers are in one order.
        self::assertSame(['GET Objects(2) HTTP/1.1', 'PATCH Objects(1) HTTP/1.1', 'DELETE Objects(3) HTTP/1.1'], array_slice(array_values(array_filter(explode("\r\n", $body), static fn (string $line): bool => str_ends_with($line, 'HTTP/1.1'))), 0));
        self::assertSame(2, substr_count($body, 'Content-Type: multipart/mixed; boundary=set_'));
        self::assertStringContainsString("if-match: W/\"a\"\r\ncontent-length: 14\r\n\r\n{\"Title\":\"Ä\"}\r\n--set_1_b--", $body);
        self::assertStringEndsWith("--b--\r\n", $body);

        $http = static fn (string $of, string $id = ''): string => "Content-Type: application/http\r\n".($id === '' ? '' : "Content-ID: $id\r\n")."\r\nHTTP/1.1 $of\r\n";
        $set = static fn (string ...$parts): string => "Content-Type: multipart/mixed; boundary=s\r\n\r\n".implode('', array_map(static fn (string $part): string => "--s\r\n$part\r\n", $parts))."--s--\r\n";
        $whole = static fn (string ...$pieces): string => "preamble\r\n".implode('', array_map(static fn (string $piece): string => "--t\r\n$piece\r\n", $pieces))."--t--\r\nepilogue";
        $answers = static fn (ChangeBatch $of, string $body): array => array_map(static fn (BatchAnswer $one): array => [$one->status, $one->body, $one->headers['etag'] ?? null], $of->decode('multipart/mixed; boundary=t', $body, $requests));
        $got = $http("200 OK\r\nETag: \"g\"\r\n\r\n{\"a\":1.10}");
        self::assertEquals(['2' => [200, '{"a":1.10}', '"g"'], '1' => [204, '', 'W/"b"'], '3' => [412, '{"error":{}}', null]], $answers($batch, $whole($got, $set($http("204 No Content\r\nETag: W/\"b\"\r\n", '1')), $http("412 Precondition Failed\r\n\r\n{\"error\":{}}"))));
        self::assertEquals(['2', '1'], array_map(strval(...), array_keys($answers($batch, $whole($got, $set($http("204 No Content\r\n")))))), 'what is missing is missing');

        $atomic = new ChangeBatch('b', true);
        self::assertSame(1, substr_count($atomic->encode($requests), 'multipart/mixed'));
        self::assertEquals(['2', '3', '1'], array_map(strval(...), array_keys($answers($atomic, $whole($got, $set($http("204 No Content\r\n", '3'), $http("204 No Content\r\n", '1')))))), 'in any order, by their ids');
        self::assertSame([400, 400], array_column(array_intersect_key($answers($atomic, $whole($got, $http("400 Bad Request\r\n\r\n{}"))), ['1' => 1, '3' => 1]), 0), 'one refusal stands for all of the set');
        self::assertSame([2], array_keys($answers($atomic, $whole($got, $http("200 OK\r\n\r\n{}")))), 'one success does not');
    }
}
