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

    /**
     * The agreement was given while the source had other addresses.
     *
     * @param  list<string>  $given  origins
     * @param  non-empty-list<string>  $new  origins
     */
    public static function elsewhere(array $given, array $new): self
    {
        $list = static fn (array $origins): string => implode(' and ', array_map(Origin::shown(...), $origins));

        return new self('The agreement with this service was given for '.($given === [] ? 'another address' : $list($given))." and its token is not sent to {$list($new)}.");
    }
}
