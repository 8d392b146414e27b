<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Outlets\FilesAhead;
use Illuminate\Console\Command;

/**
 * Writes files of feeds whose rows have changed.
 */
final class WriteFiles extends Command
{
    protected $signature = 'spring:files';

    protected $description = 'Writes the files of feeds whose rows have changed';

    public function handle(FilesAhead $ahead): int
    {
        $ahead->makeDue();

        return self::SUCCESS;
    }
}
