<?php

declare(strict_types=1);

namespace Tests\Core\OData;

use DeepSpring\OData\Batch\BatchAnswer;
use DeepSpring\OData\Batch\BatchForm;
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
}
