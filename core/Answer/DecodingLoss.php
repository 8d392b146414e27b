<?php

declare(strict_types=1);

namespace DeepSpring\Answer;

/**
 * What decoding a JSON text may have changed in silence.
 */
final readonly class DecodingLoss
{
    /**
     * @param  bool  $members  whether some member stands twice in its object, so that one of them is lost
     * @param  bool  $numbers  whether some number may be written so that decoding changes it: with more digits than a float keeps, beyond its range, minus zero
     */
    private function __construct(public bool $members, public bool $numbers)
    {
    }

    /**
     * @param  string  $json  valid
     * @param  mixed  $document  what it was decoded to, objects as `stdClass`
     */
    public static function of(string $json, mixed $document): self
    {
        return RegularJson::is($json, $document) ? new self(false, false) : new self(Duplicates::areIn($json, $document), Digits::mayBeUnusual($json));
    }
}
