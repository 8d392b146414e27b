<?php

declare(strict_types=1);

namespace App\Http\Endpoints\Step;

use App\Http\Editing\Asked;
use DeepSpring\Answer\JsonDecoder;
use DeepSpring\Answer\SampleFields;
use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Flatten\Proposal\AnswerColumns;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;

/**
 * A sample answer that was typed or uploaded.
 */
final readonly class GiveSample implements EndpointStep
{
    /** Bytes. */
    private const MOST = 1_000_000;

    private function __construct(private string $text)
    {
    }

    public static function name(): string
    {
        return 'sample';
    }

    public static function of(Asked $asked): self
    {
        return new self($asked->file('sample_file') ?? $asked->raw('sample_text'));
    }

    public static function ofText(string $text): self
    {
        return new self($text);
    }

    public function apply(array $endpoint, EndpointContext $context): array
    {
        if (strlen($this->text) > self::MOST) {
            throw InvalidSourceFile::because([new Fault('endpoints[0].answer.sample', 'A sample of more than 1 MB is not needed: a few records show all there is.')]);
        }
        // A list of fields describes one record.
        $isJson = preg_match('/^\s*[\[{]/', $this->text) === 1;
        try {
            $sample = $isJson ? JsonDecoder::decode($this->text) : SampleFields::document($this->text);
        } catch (UnreadableAnswer $unreadable) {
            throw InvalidSourceFile::because([new Fault('endpoints[0].answer.sample', str_replace('The answer', 'The sample', $unreadable->getMessage()).' Give JSON, or one field a line: name, type, example.')]);
        }
        $records = $endpoint['answer']['records'] ?? ($isJson ? AnswerColumns::recordsIn($sample) : null);
        $endpoint['answer'] = array_filter(['records' => $records]) + ($endpoint['answer'] ?? []);
        $endpoint['answer']['sample'] = $sample;

        return $endpoint;
    }
}
