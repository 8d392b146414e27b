<?php

declare(strict_types=1);

namespace DeepSpring\OData\Batch;

/**
 * OData 4.01 part 1 §11.7.7; the only form of versions 2 and 3 ([Batch 2.0]). Answers come in the order
 * of the requests, whatever id they carry.
 */
final readonly class MultipartBatch implements BatchForm
{
    /**
     * @param  string  $boundary  that occurs in no request
     */
    public function __construct(private string $boundary)
    {
    }

    public function contentType(): string
    {
        return "multipart/mixed; boundary={$this->boundary}";
    }

    public function encode(array $requests): string
    {
        $body = '';
        foreach ($requests as $id => $one) {
            $body .= "--{$this->boundary}\r\nContent-Type: application/http\r\nContent-Transfer-Encoding: binary\r\nContent-ID: $id\r\n\r\nGET {$one['path']} HTTP/1.1\r\nAccept: {$one['accept']}\r\n\r\n\r\n";
        }

        return "$body--{$this->boundary}--\r\n";
    }

    public function decode(string $contentType, string $body, array $ids): array
    {
        $answers = [];
        foreach (MultipartPieces::of($contentType, $body) as $place => $piece) {
            $answer = $piece->answer();
            if (isset($ids[$place]) && $answer !== null) {
                $answers[$ids[$place]] = new BatchAnswer($answer->status, $answer->body);
            }
        }

        return $answers;
    }
}
