<?php

declare(strict_types=1);

namespace DeepSpring\Change;

/**
 * What a change asks of the service: the endpoint with the values of its inputs, or what does not fit.
 */
final readonly class AskedChange
{
    /**
     * @param  array<string, list<string>>  $values  by input
     * @param  array<string, string>  $faults  by column; by "" what concerns none
     */
    public function __construct(public BoundEndpoint $bound, public array $values, public array $faults)
    {
    }
}
