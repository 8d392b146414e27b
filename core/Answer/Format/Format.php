<?php

declare(strict_types=1);

namespace DeepSpring\Answer\Format;

use DeepSpring\Answer\UnreadableAnswer;

/**
 * One way of writing records down.
 */
interface Format
{
    /**
     * Whether a body is surely of this kind.
     *
     * @param  string  $type  media type of the answer, in small letters, without parameters
     * @param  string  $start  the first bytes of the body, without blanks
     */
    public function recognises(string $type, string $start): bool;

    /**
     * @throws UnreadableAnswer
     */
    public function read(string $body, string $charset): Read;
}
