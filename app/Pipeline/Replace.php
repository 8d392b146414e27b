<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Reservoir\StagedTables;
use DeepSpring\Flatten\RowBatch;

/**
 * New tables in the place of those that are kept. The answers can be kept with them.
 */
final class Replace implements Sink
{
    use FillsStagedTables {
        take as private takeRows;
    }

    /**
     * @param  int  $pageBytes  of answers that are kept at most; 0 for none
     * @param  (\Closure(string, string): ?string)|null  $conceal  takes what is masked out of a body, given its media type; null for one that must not be kept
     */
    public function __construct(StagedTables $staged, int $run = 0, int $attempt = 1, private readonly int $pageBytes = 0, private readonly ?\Closure $conceal = null)
    {
        [$this->staged, $this->run, $this->attempt] = [$staged, $run, $attempt];
        if ($pageBytes > 0) {
            $staged->keepPages($pageBytes);
        }
    }

    public function take(ReadPage $page, RowBatch $batch): void
    {
        $this->takeRows($page, $batch);
        if ($this->pageBytes > 0) {
            $this->keep($page);
        }
    }

    private function keep(ReadPage $page): void
    {
        $body = match (true) {
            $page->sent->stream !== null => null,
            $this->conceal === null => $page->sent->body,
            default => ($this->conceal)($page->sent->body, $page->sent->contentType()),
        };
        $body === null ? $this->staged->dropPages() : $this->staged->addPage($page->number, $page->sent->contentType(), $body);
    }
}
