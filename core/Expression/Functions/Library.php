<?php

declare(strict_types=1);

namespace DeepSpring\Expression\Functions;

/**
 * All functions there are.
 */
final class Library
{
    /** @var array<string, Definition> */
    private array $all = [];

    public function __construct(?\DateTimeImmutable $now)
    {
        foreach ([...ConditionFunctions::all(), ...TextFunctions::all(), ...NumberFunctions::all(), ...DateFunctions::all($now), ...ListFunctions::all()] as $one) {
            $this->all[$one->name] = $one;
        }
    }

    public function find(string $name): ?Definition
    {
        return $this->all[$name] ?? null;
    }

    /**
     * @return list<string>
     */
    public function names(): array
    {
        return array_keys($this->all);
    }

    /**
     * @return array<string, list<Definition>> by group
     */
    public function groups(): array
    {
        $groups = [];
        foreach ($this->all as $one) {
            $groups[$one->group][] = $one;
        }

        return $groups;
    }
}
