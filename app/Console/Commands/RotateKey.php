<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Secrets\UnreadableSecret;
use App\Secrets\Vault;
use App\View\Show;

final class RotateKey extends SpringCommand
{
    protected $signature = 'spring:rotate-key';

    protected $description = 'Puts a new key into the key file; secrets stay as they are';

    public function work(Vault $vault, AuditLog $log): int
    {
        try {
            $count = $vault->rotate();
        } catch (UnreadableSecret $unreadable) {
            $this->say($unreadable->getMessage());

            return self::REFUSED;
        }
        $log->note(Action::KeyRotated, 'key file');
        $this->say('A new key is in use. '.Show::count($count, 'data key').' sealed again; no secret had to be touched. Keep a copy of the key file apart from copies of the database.');

        return self::DONE;
    }
}
