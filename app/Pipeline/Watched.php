<?php

declare(strict_types=1);

namespace App\Pipeline;

use DeepSpring\Flatten\RowBatch;

/**
 * A sink, and somebody who looks at what goes into it.
 */
final readonly class Watched implements Sink
{
    /**
     * @param  (\Closure(ChangeWatch): void)|null  $told  called after each page
     */
    public function __construct(private Sink $sink, private ChangeWatch $watch, private ?\Closure $told = null)
    {
    }

    public function begin(): ?array
    {
        return $this->sink->begin();
    }

    public function take(ReadPage $page, RowBatch $batch): void
    {
        $this->watch->see($page, $batch);
        $this->sink->take($page, $batch);
        if ($this->told !== null) {
            ($this->told)($this->watch);
        }
    }

    public function isDue(): bool
    {
        return $this->sink->isDue();
    }

    public function commit(?array $state): void
    {
        $this->sink->commit($state);
    }

    public function finish(array $state): void
    {
        $this->sink->finish($state);
    }

    public function complete(): void
    {
        $this->sink->complete();
    }

    public function end(bool $keep = false): void
    {
        $this->sink->end($keep);
    }
}
