<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

/**
 * What was handed in is none of the things that can be read, or cannot be read.
 */
final class CannotDescribe extends \RuntimeException
{
    /**
     * @param  list<string>  $sentences  one for each thing that is wrong
     */
    private function __construct(string $message, public readonly array $sentences)
    {
        parent::__construct($message);
    }

    public static function because(string ...$sentences): self
    {
        return new self(implode(' ', $sentences), array_values($sentences));
    }

    public static function unknown(): self
    {
        return self::because('This is none of what can be read here: an address, cURL commands, an OpenAPI or Swagger file (JSON, YAML, or a zip of them), a HAR recording, or a source file.');
    }
}
