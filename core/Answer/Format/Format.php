<?php

declare(strict_types=1);

namespace DeepSpring\Answer\Format;

use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Value\Kind\Declared;

/**
 * One way of writing records down. The settings that it declares stand in the source file under
 * `answer` and its name, such as `answer.csv`.
 */
interface Format extends Declared
{
    /**
     * @param  array<string, mixed>  $settings  of a source file
     */
    public static function of(array $settings): self;

    /**
     * How sure it is that a body is of this kind.
     *
     * @param  string  $type  media type of the answer, in small letters, without parameters
     * @param  string  $start  what the body begins with, without blanks before it
     */
    public function recognises(string $type, string $start): Recognition;

    /**
     * @throws UnreadableAnswer
     */
    public function read(string $body, string $charset): Read;
}
