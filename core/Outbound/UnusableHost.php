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

    public static function withZone(string $host): self
    {
        return new self($host, "\"$host\" names a network interface (a zone), which means nothing from here.");
    }
}
