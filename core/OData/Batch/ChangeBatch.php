<?php

declare(strict_types=1);

namespace DeepSpring\OData\Batch;

/**
 * Requests that read and change, as one body: what changes stands in change sets, each in one of its own or all in one
 * (OData 4.01 part 1 §11.7.7.1, §11.7.7.2; [Batch 2.0]). Written as multipart, which every version knows and which
 * keeps bodies as they are.
 */
final readonly class ChangeBatch
{
    /**
     * @param  string  $boundary  that occurs in no request
     * @param  bool  $isAtomic  whether all changes are done, or none
     */
    public function __construct(private string $boundary, private bool $isAtomic = false)
    {
    }

    public function contentType(): string
    {
        return "multipart/mixed; boundary={$this->boundary}";
    }

    /**
     * @param  list<BatchedRequest>  $requests
     */
    public function encode(array $requests): string
    {
        $body = '';
        foreach ($this->units($requests) as $number => $unit) {
            $body .= "--{$this->boundary}\r\n".($unit[0]->reads() ? self::part($unit[0]) : $this->changeSet($unit, $number));
        }

        return "$body--{$this->boundary}--\r\n";
    }

    /**
     * The answers, by id. A change set that was refused is answered once for all that stands in it.
     *
     * @param  list<BatchedRequest>  $requests  as they were asked
     * @return array<string, BatchAnswer> those that were answered
     *
     * @throws UnreadableBatch
     */
    public function decode(string $contentType, string $body, array $requests): array
    {
        $answers = [];
        $pieces = MultipartPieces::of($contentType, $body);
        foreach ($this->units($requests) as $place => $unit) {
            $piece = $pieces[$place] ?? null;
            if ($piece === null) {
                continue;
            }
            if ($piece->isMultipart()) {
                $answers += self::inside($piece, $unit);

                continue;
            }
            $answer = $piece->answer();
            if ($answer !== null && (count($unit) === 1 || ! $answer->isSuccess())) {
                $answers += array_fill_keys(array_map(static fn (BatchedRequest $one): string => $one->id, $unit), $answer);
            }
        }

        return $answers;
    }

    /**
     * Answers inside a change set carry the id of their request; where they do not, their order counts.
     *
     * @param  list<BatchedRequest>  $unit
     * @return array<string, BatchAnswer>
     *
     * @throws UnreadableBatch
     */
    private static function inside(MultipartPiece $piece, array $unit): array
    {
        $inner = MultipartPieces::of($piece->type(), $piece->content);
        $ids = array_map(static fn (BatchedRequest $one): string => $one->id, $unit);
        $answers = [];
        foreach ($inner as $place => $one) {
            $id = $one->id() ?? (count($inner) === count($ids) ? $ids[$place] : '');
            $answer = $one->answer();
            $answer === null || ! in_array($id, $ids, true) || $answers[$id] = $answer;
        }

        return $answers;
    }

    /**
     * What is answered as one: each that reads, and each change set, in their order.
     *
     * @param  list<BatchedRequest>  $requests
     * @return list<non-empty-list<BatchedRequest>>
     */
    private function units(array $requests): array
    {
        $changes = array_values(array_filter($requests, static fn (BatchedRequest $one): bool => ! $one->reads()));
        $units = array_map(static fn (BatchedRequest $one): array => [$one], array_values(array_filter($requests, static fn (BatchedRequest $one): bool => $one->reads())));

        return $changes === [] ? $units : [...$units, ...($this->isAtomic ? [$changes] : array_map(static fn (BatchedRequest $one): array => [$one], $changes))];
    }

    /**
     * @param  list<BatchedRequest>  $requests
     */
    private function changeSet(array $requests, int $number): string
    {
        $boundary = "set_{$number}_{$this->boundary}";

        return "Content-Type: multipart/mixed; boundary=$boundary\r\n\r\n".implode('', array_map(static fn (BatchedRequest $one): string => "--$boundary\r\n".self::part($one), $requests))."--$boundary--\r\n\r\n";
    }

    private static function part(BatchedRequest $request): string
    {
        return "Content-Type: application/http\r\nContent-Transfer-Encoding: binary\r\nContent-ID: {$request->id}\r\n\r\n{$request->message()}\r\n";
    }
}
