<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath;

/**
 * Where a node is, as a chain back to the root; written out only when somebody asks.
 */
final readonly class Location
{
    public function __construct(private ?self $parent = null, private string|int|null $step = null)
    {
    }

    public function child(string|int $step): self
    {
        return new self($this, $step);
    }

    /**
     * Names and indexes from the root.
     *
     * @return list<string|int>
     */
    public function steps(): array
    {
        $steps = [];
        for ($at = $this; $at->parent !== null; $at = $at->parent) {
            $steps[] = $at->step ?? 0;
        }

        return array_reverse($steps);
    }

    /**
     * The normalized path (RFC 9535 §2.7).
     */
    public function __toString(): string
    {
        return '$'.implode('', array_map(self::step(...), $this->steps()));
    }

    public static function step(string|int $step): string
    {
        return is_int($step) ? "[$step]" : "['".self::escape($step)."']";
    }

    /**
     * A step as people write it: `.name` where that is possible.
     */
    public static function short(string|int $step): string
    {
        return is_string($step) && preg_match('/^[A-Za-z_][A-Za-z0-9_]*$/D', $step) === 1 ? ".$step" : self::step($step);
    }

    private static function escape(string $name): string
    {
        $name = strtr($name, ['\\' => '\\\\', "'" => "\\'", "\x08" => '\\b', "\x0c" => '\\f', "\n" => '\\n', "\r" => '\\r', "\t" => '\\t']);

        return (string) preg_replace_callback('/[\x00-\x1f]/', static fn (array $found): string => sprintf('\\u%04x', ord($found[0])), $name);
    }
}
