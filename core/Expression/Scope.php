<?php

declare(strict_types=1);

namespace DeepSpring\Expression;

/**
 * The columns that an expression can name, in their order.
 */
final readonly class Scope
{
    /** @var array<string, int> */
    private array $places;

    /**
     * @param  list<array{string, string}>  $columns  name, type of a source file
     */
    public function __construct(private array $columns)
    {
        $places = [];
        foreach ($columns as $place => [$name]) {
            $places[$name] ??= $place;
        }
        $this->places = $places;
    }

    public function place(string $name): ?int
    {
        return $this->places[$name] ?? null;
    }

    public function type(int $place): string
    {
        return $this->columns[$place][1];
    }

    /**
     * @return list<string>
     */
    public function names(): array
    {
        return array_column($this->columns, 0);
    }
}
