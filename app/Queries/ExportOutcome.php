<?php

declare(strict_types=1);

namespace App\Queries;

final readonly class ExportOutcome
{
    /**
     * @param  list<string>  $said  what is not as it was, in sentences
     */
    public function __construct(public int $rows, public array $said)
    {
    }
}
