<?php

declare(strict_types=1);

namespace DeepSpring\Change;

/**
 * What a service answered about one of several records that were sent in one request.
 */
final readonly class PartAnswer
{
    /**
     * @param  string  $body  the record, or what is wrong with it
     * @param  bool  $isUntouched  whether the whole was refused because of others, so that nothing was done to it
     */
    public function __construct(public int $status, public string $body, public bool $isUntouched = false)
    {
    }
}
