<?php

declare(strict_types=1);

namespace DeepSpring\Answer;

use DeepSpring\Answer\JsonPath\InvalidJsonPath;
use DeepSpring\Answer\JsonPath\JsonPath;
use DeepSpring\Ask\Does;

final readonly class AnswerDefinition
{
    /**
     * @param  list<int>  $ok  status codes that are a success
     */
    public function __construct(public array $ok, public ?JsonPath $records)
    {
    }

    /**
     * @param  array<string, mixed>  $answer  valid by the schema
     *
     * @throws InvalidJsonPath
     */
    public static function of(array $answer, Does $does = Does::List): self
    {
        return new self(
            $answer['ok'] ?? $does->succeedsWith(),
            isset($answer['records']) ? JsonPath::parse($answer['records']) : null,
        );
    }

    /**
     * The records of a document; without a path the whole document is one.
     *
     * @return list<mixed>
     */
    public function records(mixed $document): array
    {
        return $this->records === null ? [$document] : $this->records->values($document);
    }

    /**
     * The normalized path of the record at this place among the records.
     */
    public function locate(mixed $document, int $index): string
    {
        return $this->records === null ? '$' : ($this->records->nodes($document)[$index] ?? null)?->path() ?? '$';
    }
}
