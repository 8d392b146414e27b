<?php

declare(strict_types=1);

namespace Tests\App;

use App\Pipeline\FetchObserver;
use App\Transport\Sent;

/**
 * Looks on while pages are read, and remembers.
 */
final class Onlooker implements FetchObserver
{
    /** @var list<array{int, int|null, int|null}> page, status, records */
    public array $answers = [];

    /** @var list<array{int, int|null, float}> page, status, seconds */
    public array $again = [];

    /** @var list<string> */
    public array $waits = [];

    public ?float $stopAt = null;

    public function answered(Sent $sent, int $page, ?int $records): void
    {
        $this->answers[] = [$page, $sent->status, $records];
    }

    public function again(Sent $sent, int $page, float $wait): void
    {
        $this->again[] = [$page, $sent->status, $wait];
    }

    public function waits(?string $for, float $until): void
    {
        if ($for !== null) {
            $this->waits[] = $for;
        }
    }

    public function goesOn(): bool
    {
        return $this->stopAt === null || microtime(true) < $this->stopAt;
    }
}
