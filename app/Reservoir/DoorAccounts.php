<?php

declare(strict_types=1);

namespace App\Reservoir;

use App\Models\DoorAccount;
use App\Models\Environment;

/**
 * Accounts of the database for tools that are not ours. They can sign in through the door alone, over TLS, and read
 * what whoever they are for may read.
 */
interface DoorAccounts
{
    /** From where connections of the door reach the database: an address of loopback that nothing else uses. */
    public const FROM = '127.0.0.77';

    /**
     * Makes the account, or gives it another password.
     *
     * @return string the password, which nobody can see again
     */
    public function give(DoorAccount $account): string;

    /**
     * Brings its rights up to date.
     */
    public function align(DoorAccount $account): void;

    /**
     * Takes it away, and ends its connections; one that is gone is no fault.
     */
    public function drop(DoorAccount $account): void;

    /**
     * Rows that accounts were sent today (UTC), and whether they are locked until tomorrow for that.
     *
     * @return array<string, array{int, bool}> by the name of the account
     */
    public function taken(Environment $environment): array;
}
