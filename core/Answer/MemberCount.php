<?php

declare(strict_types=1);

namespace DeepSpring\Answer;

/**
 * How many members the objects of a decoded document have. Records are mostly alike: which of their
 * members hold structures is learned from the first few of each kind, and only there is looked for
 * more. What is counted so is never more than there is, and where records differ less.
 */
final readonly class MemberCount
{
    private const LEARNED_FROM = 6;

    /**
     * @param  list<string>  $flat  members whose objects hold no structures
     * @param  array<array-key, self>  $deep  members whose objects or arrays do, and what is in them
     * @param  self|null  $elements  what the elements of arrays are, where they are structures
     */
    private function __construct(private array $flat, private array $deep, private ?self $elements)
    {
    }

    public static function atLeast(mixed $document): int
    {
        return self::learn([$document])->count([$document]);
    }

    public static function exactly(mixed $value): int
    {
        $count = 0;
        if ($value instanceof \stdClass) {
            $value = (array) $value;
            $count = count($value);
        } elseif (! is_array($value)) {
            return 0;
        }
        foreach ($value as $member) {
            if (is_object($member) || is_array($member)) {
                $count += self::exactly($member);
            }
        }

        return $count;
    }

    /**
     * @param  array<array-key, mixed>  $values
     */
    private static function learn(array $values): self
    {
        $below = $elements = [];
        foreach (array_slice($values, 0, self::LEARNED_FROM) as $value) {
            $isObject = is_object($value);
            foreach ($isObject || is_array($value) ? (array) $value : [] as $name => $member) {
                if (! is_object($member) && ! is_array($member)) {
                    continue;
                }
                if ($isObject) {
                    $below[$name][] = $member;
                } elseif (count($elements) < self::LEARNED_FROM) {
                    $elements[] = $member;
                }
            }
        }
        $deep = array_map(self::learn(...), $below);
        $isFlat = static fn (self $one): bool => $one->flat === [] && $one->deep === [] && $one->elements === null;

        return new self(array_map(strval(...), array_keys(array_filter($deep, $isFlat))), array_filter($deep, static fn (self $one): bool => ! $isFlat($one)), $elements === [] ? null : self::learn($elements));
    }

    /**
     * @param  array<array-key, mixed>  $values
     */
    private function count(array $values): int
    {
        $count = 0;
        foreach ($values as $value) {
            if (is_object($value)) {
                $count += count((array) $value);
                foreach ($this->flat as $name) {
                    if (is_object($member = $value->{$name} ?? null)) {
                        $count += count((array) $member);
                    }
                }
                foreach ($this->deep as $name => $kind) {
                    $member = $value->{$name} ?? null;
                    if (is_object($member)) {
                        $count += $kind->count([$member]);
                    } elseif (is_array($member)) {
                        $count += $kind->elements?->count($member) ?? 0;
                    }
                }
            } elseif (is_array($value)) {
                $count += $this->elements?->count($value) ?? 0;
            }
        }

        return $count;
    }
}
