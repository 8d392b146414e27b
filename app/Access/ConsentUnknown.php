<?php

declare(strict_types=1);

namespace App\Access;

final class ConsentUnknown extends \RuntimeException
{
    public static function address(string $address): self
    {
        return new self("\"$address\" is no address to sign in at.");
    }

    public static function state(): self
    {
        return new self('This sign-in was not begun here by you, was finished before, or took more than a quarter of an hour.');
    }
}
