<?php

declare(strict_types=1);

namespace App\Runs;

use App\Transport\Sent;

/**
 * An answer and the records in it.
 */
final readonly class ReadPage
{
    /**
     * @param  list<mixed>  $records
     * @param  Position|null  $position  where to go on after it; null after the last page
     */
    public function __construct(public int $number, public mixed $document, public array $records, public Sent $sent, public ?Position $position = null)
    {
    }
}
