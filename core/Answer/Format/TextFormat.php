<?php

declare(strict_types=1);

namespace DeepSpring\Answer\Format;

use DeepSpring\Value\Kind\Kind;

/**
 * The whole body as one text. It has to be chosen, since anything can be read so.
 */
final class TextFormat implements Format
{
    public static function kind(): Kind
    {
        return new Kind('text', 'Plain text', 'The whole answer is one text. It is never detected, only chosen.');
    }

    public static function of(array $settings): self
    {
        return new self;
    }

    public function recognises(string $type, string $start): Recognition
    {
        return Recognition::No;
    }

    public function read(string $body, string $charset): Read
    {
        return new Read(Charset::detected($body, $charset)[1], 'text', 'one text');
    }
}
