<?php

declare(strict_types=1);

namespace Tests\Core\OData;

use DeepSpring\OData\Batch\AskedBatch;
use DeepSpring\OData\Batch\AskedJsonBatch;
use DeepSpring\OData\Batch\AskedMultipartBatch;
use DeepSpring\OData\Batch\BatchAnswer;
use DeepSpring\OData\Batch\BatchForm;
use DeepSpring\OData\Batch\BatchPart;
use DeepSpring\OData\Batch\BatchReply;
use DeepSpring\OData\Batch\JsonBatch;
use DeepSpring\OData\Batch\MultipartBatch;
use DeepSpring\OData\Batch\UnreadableBatch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * Batches as a service takes them, in both forms.
 */
final class AskedBatchTest extends TestCase
{
    /**
     * @return iterable<string, array{AskedBatch, BatchForm}>
     */
    public static function forms(): iterable
    {
        yield 'JSON' => [new AskedJsonBatch, new JsonBatch];
        yield 'multipart' => [new AskedMultipartBatch('answers_1'), new MultipartBatch('asked_1')];
    }

    #[DataProvider('forms')]
    public function test_what_our_own_reader_sends_is_taken_and_what_is_answered_can_be_read(AskedBatch $taken, BatchForm $sent): void
    {
        $requests = [];
        for ($number = 1; $number <= AskedBatch::MOST; $number++) {
            $requests["r$number"] = ['path' => "loans($number)?\$select=ref,fee&\$filter=a%20eq%20'--x'", 'accept' => 'application/json'];
        }
        $parts = $taken->requests($sent->contentType(), $sent->encode($requests));
        self::assertSame(array_map(strval(...), array_keys($requests)), array_map(static fn (BatchPart $part): string => $part->id, $parts));
        self::assertSame(array_column($requests, 'path'), array_map(static fn (BatchPart $part): string => $part->url, $parts));
        self::assertSame(['GET', 'application/json'], [$parts[0]->method, $parts[0]->headers['accept']]);
        $bodies = ['{"ref":"a\\r\\n--answers_1"}', '{"error":{"message":"ä"}}', '', '[1]'];
        $replies = array_map(static fn (int $number): BatchReply => new BatchReply($parts[$number]->id, [200, 404, 304, 200][$number], 'application/json', $bodies[$number], ['ETag' => 'W/"x"']), [0, 1, 2, 3]);
        $answers = $sent->decode($taken->contentType(), $taken->answer($replies), array_map(static fn (BatchReply $reply): string => $reply->id, $replies));
        self::assertSame([200, 404, 304, 200], array_values(array_map(static fn (BatchAnswer $answer): int => $answer->status, $answers)));
        self::assertSame(array_map(static fn (string $body): mixed => json_decode($body, true), $bodies), array_values(array_map(static fn (BatchAnswer $answer): mixed => json_decode($answer->body, true), $answers)));
    }

    /**
     * @return iterable<string, array{AskedBatch, string, string, string}>
     */
    public static function unreadable(): iterable
    {
        $json = new AskedJsonBatch;
        $parts = new AskedMultipartBatch('answers_1');
        $one = "--b\r\nContent-Type: application/http\r\n\r\nGET loans HTTP/1.1\r\n\r\n\r\n";
        yield 'no JSON' => [$json, 'application/json', '{', 'no JSON with a list "requests"'];
        yield 'no list' => [$json, 'application/json', '{"requests":{"a":1}}', 'no JSON with a list "requests"'];
        yield 'deep' => [$json, 'application/json', str_repeat('[', 5000).str_repeat(']', 5000), 'no JSON with a list "requests"'];
        yield 'no id' => [$json, 'application/json', '{"requests":[{"method":"GET","url":"a"}]}', 'request 1 has no id, method or url'];
        yield 'an id twice' => [$json, 'application/json', '{"requests":[{"id":"1","method":"GET","url":"a"},{"id":1,"method":"GET","url":"a"}]}', 'two requests have the id "1"'];
        yield 'too many' => [$json, 'application/json', (string) json_encode(['requests' => array_map(static fn (int $id): array => ['id' => $id, 'method' => 'GET', 'url' => 'a'], range(1, 101))]), 'it has 101 requests; 100 are taken at once'];
        yield 'no boundary' => [$parts, 'multipart/mixed', $one, 'names no boundary'];
        yield 'cut off' => [$parts, 'multipart/mixed; boundary=b', $one, 'its last boundary is missing'];
        yield 'no request' => [$parts, 'multipart/mixed; boundary=b', "--b--\r\n", 'there is no request in it'];
        yield 'no request line' => [$parts, 'multipart/mixed; boundary=b', str_replace('GET loans HTTP/1.1', 'loans', $one)."--b--\r\n", 'part 1 begins with no request line'];
        yield 'too many parts' => [$parts, 'multipart/mixed; boundary=b', str_repeat($one, 101)."--b--\r\n", 'more than 100 requests'];
    }

    #[DataProvider('unreadable')]
    public function test_what_cannot_be_read_is_said(AskedBatch $form, string $type, string $body, string $says): void
    {
        $this->expectException(UnreadableBatch::class);
        $this->expectExceptionMessage($says);
        $form->requests($type, $body);
    }

    public function test_lines_may_end_with_a_line_feed_alone_and_a_change_set_is_one_request(): void
    {
        $body = "a preamble\n--b\nContent-Type: application/http\nContent-ID: 7\n\nGET loans?\$top=1 HTTP/1.1\nAccept: text/plain\n\n--b\nContent-Type: multipart/mixed; boundary=c\n\n--c\nContent-Type: application/http\n\nPOST loans HTTP/1.1\n\n{}\n--c--\n--b--\n";
        $parts = (new AskedMultipartBatch('x'))->requests('multipart/mixed; boundary="b"', $body);
        self::assertSame([['7', 'GET', 'loans?$top=1'], ['2', 'POST', '']], array_map(static fn (BatchPart $part): array => [$part->id, $part->method, $part->url], $parts));
        self::assertSame('text/plain', $parts[0]->headers['accept']);
    }
}
