<?php

declare(strict_types=1);

namespace DeepSpring\Access;

final class MissingSecret extends \RuntimeException
{
    /**
     * @param  list<string>  $elsewhere  origins that it was not given for; none when there is no value
     */
    private function __construct(public readonly string $name, string $message, public readonly array $elsewhere = [])
    {
        parent::__construct($message);
    }

    public static function named(string $name, string $environment): self
    {
        return new self($name, "The secret \"$name\" has no value in $environment. Set it under Authentication, or with --secret $name=….");
    }

    /**
     * There is a value, but it was given for other addresses than those it would be sent to now.
     *
     * @param  list<string>  $given  origins
     * @param  non-empty-list<string>  $new  origins
     */
    public static function elsewhere(string $name, array $given, array $new): self
    {
        $list = static fn (array $origins): string => implode(' and ', array_map(Origin::shown(...), $origins));
        $for = $given === [] ? 'before there was an address' : 'for '.$list($given);

        return new self($name, "The secret \"$name\" was given $for, and is not sent to {$list($new)}. Give it again, or let the person who gave it confirm the new address.", $new);
    }
}
