<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Notes\Sender;
use Illuminate\Console\Command;

/**
 * Sends what those who follow something are to be told.
 */
final class Deliver extends Command
{
    protected $signature = 'spring:deliver';

    protected $description = 'Sends the messages that are due';

    public function handle(Sender $sender): int
    {
        $sender->send();

        return self::SUCCESS;
    }
}
