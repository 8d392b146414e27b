<?php

declare(strict_types=1);

namespace DeepSpring\Outbound;

final class UnusableHost extends \RuntimeException
{
    private function __construct(public readonly string $host, string $message)
    {
        parent::__construct($message);
    }

    public static function noAddress(string $host): self
    {
        return new self($host, "\"$host\" looks like a network address and is none.");
    }

    public static function notAName(string $host): self
    {
        return new self($host, "\"$host\" is no name of a host as it is written. Names have letters, digits, hyphens and dots.");
    }

    public static function withZone(string $host): self
    {
        return new self($host, "\"$host\" names a network interface (a zone), which means nothing from here.");
    }
}
