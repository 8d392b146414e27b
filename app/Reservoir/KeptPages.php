<?php

declare(strict_types=1);

namespace App\Reservoir;

/**
 * The answers of the last complete run of an endpoint, granted to nobody: so that a changed plan can
 * make the tables anew without asking the API.
 */
interface KeptPages
{
    /**
     * @return array{pages: int, bytes: int, kept_at: string}|null in UTC; null when there are none
     */
    public function about(): ?array;

    /**
     * @return \Generator<int, array{string, string}> page → media type and body
     *
     * @throws KeepFailed when one is damaged
     */
    public function pages(): \Generator;

    public function forget(): void;
}
