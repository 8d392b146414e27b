<?php

declare(strict_types=1);

namespace App\Pipeline;

use DeepSpring\Flatten\RowBatch;

/**
 * Whoever looks on while pages become rows.
 */
interface PipelineObserver
{
    /**
     * What a page became, before it goes to the sink.
     *
     * @throws ReadingFailed when it must not go there
     */
    public function made(ReadPage $page, RowBatch $batch): void;

    /**
     * What came so far is safe.
     *
     * @param  bool  $canGoOn  whether another process can go on from there
     */
    public function committed(bool $canGoOn): void;

    /**
     * A page is in the sink.
     *
     * @return bool whether to go on with the next one
     *
     * @throws ReadingStopped
     */
    public function taken(Tally $tally): bool;
}
