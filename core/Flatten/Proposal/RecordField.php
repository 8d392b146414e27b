<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal;

use DeepSpring\Answer\JsonPath\Location;
use DeepSpring\Value\JsonText;

/**
 * One path of the sampled records: what was seen there, and what is below it. Values are gathered
 * first and looked at as a whole, which is many times as fast as looking at each.
 */
final class RecordField
{
    /** Names of members that are told apart; an object with more is surely a dictionary. */
    public const MOST_MEMBERS = 3000;

    /** @var list<string|int|float|bool|JsonText|null> scalar values and nulls; a number that PHP would write otherwise as its digits */
    public array $values = [];

    /** How many objects were here. */
    public int $objects = 0;

    /** @var list<int> how many elements each array here had */
    public array $lengths = [];

    /** @var array<array-key, self> members of the objects here, by name */
    public array $members = [];

    /** What the elements of the arrays here are. */
    public ?self $element = null;

    private ?SampledValues $stats = null;

    public function take(mixed $value): void
    {
        if ($value instanceof \stdClass) {
            $this->objects++;
            foreach ((array) $value as $name => $member) {
                $field = $this->members[$name] ?? $this->member($name);
                if ($member === null || is_scalar($member) || $member instanceof JsonText) {
                    $field->values[] = $member;
                } else {
                    $field->take($member);
                }
            }
        } elseif (is_array($value)) {
            $this->lengths[] = count($value);
            $this->element ??= new self;
            foreach ($value as $element) {
                $this->element->take($element);
            }
        } elseif ($value === null || is_scalar($value) || $value instanceof JsonText) {
            $this->values[] = $value;
        }
    }

    private function member(string|int $name): self
    {
        if (count($this->members) >= self::MOST_MEMBERS) {
            return $this->members["\0more"] ??= new self;
        }

        return $this->members[$name] = new self;
    }

    /**
     * Times that anything was here, null too.
     */
    public function present(): int
    {
        return count($this->values) + $this->objects + count($this->lengths);
    }

    public function stats(): SampledValues
    {
        return $this->stats ??= new SampledValues($this->values);
    }

    /**
     * Times that a value was here that is no null.
     */
    public function filled(): int
    {
        return $this->stats()->filled + $this->objects + count($this->lengths);
    }

    public function isObject(): bool
    {
        return $this->objects > 0 && $this->objects === $this->filled();
    }

    public function isArray(): bool
    {
        return $this->lengths !== [] && count($this->lengths) === $this->filled();
    }

    public function isScalar(): bool
    {
        return $this->objects === 0 && $this->lengths === [];
    }

    /**
     * Everything that was seen below either.
     */
    public function merge(self $other): void
    {
        array_push($this->values, ...$other->values);
        array_push($this->lengths, ...$other->lengths);
        $this->objects += $other->objects;
        $this->stats = null;
        foreach ($other->members as $name => $member) {
            ($this->members[$name] ?? $this->member($name))->merge($member);
        }
        if ($other->element !== null) {
            $this->element ??= new self;
            $this->element->merge($other->element);
        }
    }

    /**
     * All members as if they were one: what a dictionary holds.
     */
    public function anyMember(): self
    {
        $any = new self;
        foreach ($this->members as $member) {
            $any->merge($member);
        }

        return $any;
    }

    public static function step(string|int $name): string
    {
        return Location::short((string) $name);
    }
}
