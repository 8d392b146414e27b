<?php

declare(strict_types=1);

namespace App\Queries\Live;

use App\Pipeline\FetchObserver;
use App\Pipeline\PipelineObserver;
use App\Pipeline\ReadPage;
use App\Pipeline\SourceConnection;
use App\Pipeline\Tally;
use App\Queries\QueryRefused;
use App\Transport\Sent;
use DeepSpring\Flatten\RowBatch;
use DeepSpring\Value\Phrase;

/**
 * A reading for one statement: within its time, and within a number of rows.
 */
final class LiveObserver implements FetchObserver, PipelineObserver
{
    /** What was asked first, with secrets masked. */
    public string $address = '';

    /** Rows of the main table. */
    public int $rows = 0;

    public readonly Tally $tally;

    /**
     * @param  float  $until  seconds since 1970
     * @param  int  $most  rows of the main table
     */
    public function __construct(private readonly LiveTable $table, private readonly SourceConnection $connection, private readonly float $until, private readonly int $most)
    {
        $this->tally = new Tally;
    }

    public function answered(Sent $sent, int $page, ?int $records): void
    {
    }

    public function again(Sent $sent, int $page, float $wait): void
    {
    }

    public function waits(?string $for, float $until): void
    {
    }

    public function goesOn(): bool
    {
        return microtime(true) < $this->until;
    }

    public function made(ReadPage $page, RowBatch $batch): void
    {
        $this->address = $this->address !== '' ? $this->address : rawurldecode($this->connection->mask()->apply((string) $page->sent->request->getUri()));
        $this->rows += count($batch->rows[0]);
        if ($this->rows > $this->most) {
            throw QueryRefused::because('More than '.Phrase::number($this->most)." rows of {$this->table->name} would have to be read from {$this->table->source->name} for this. Narrow it with a condition that the service can be asked for, or have it kept as a table.");
        }
    }

    public function committed(bool $canGoOn): void
    {
    }

    public function taken(Tally $tally): bool
    {
        return true;
    }
}
