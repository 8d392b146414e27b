<?php

declare(strict_types=1);

namespace App\Changes;

use App\Pipeline\ReadingFailed;
use App\Transport\Sent;

/**
 * A way to send several changes in one request, and to find the answer to each in what comes back.
 */
interface Bundling
{
    /**
     * How many travel together at most.
     *
     * @param  string|null  $group  of those; of any group without it
     */
    public function most(?string $group = null): int;

    /**
     * What a flight travels with: those of the same group. Null where it travels alone.
     */
    public function group(Flight $flight): ?string;

    /**
     * @param  non-empty-list<Flight>  $flights  of one group
     *
     * @throws ReadingFailed where no request can be made of them
     */
    public function request(array $flights): BundledRequest;

    /**
     * What was answered to each, as if it had been sent alone.
     *
     * @param  non-empty-list<Flight>  $flights  as they were sent
     * @return list<Sent|null> in their order; null where nothing was done to it, because of others
     */
    public function answers(array $flights, Sent $sent): array;
}
