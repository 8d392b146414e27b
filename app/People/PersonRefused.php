<?php

declare(strict_types=1);

namespace App\People;

/**
 * A change of people that is not possible, in a sentence.
 */
final class PersonRefused extends \RuntimeException
{
    public static function lastAdministrator(): self
    {
        return new self('This is the last administrator who can sign in. Make somebody else one first.');
    }

    public static function taken(string $email): self
    {
        return new self("There is somebody with the address $email already.");
    }

    public static function because(string $sentence): self
    {
        return new self($sentence);
    }
}
