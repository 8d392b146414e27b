<?php

declare(strict_types=1);

namespace DeepSpring\Access;

final class ConsentMissing extends \RuntimeException
{
    public static function forAll(): self
    {
        return new self('Nobody has agreed yet that Deep Spring may ask this service on their behalf.');
    }

    public static function unattended(): self
    {
        return new self('Consent for this source is personal, and nobody attends this. What runs by itself needs one consent for all.');
    }

    public static function again(): self
    {
        return new self('The agreement given to this service has ended, and it gave nothing to renew it with.');
    }
}
