<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Mask;

use DeepSpring\Answer\Digits;
use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\ExactFit;
use DeepSpring\Flatten\ManyValues;
use DeepSpring\Flatten\Type\IntegerType;
use DeepSpring\Flatten\Type\JsonType;
use DeepSpring\Value\JsonText;
use DeepSpring\Value\Unfit;

/**
 * What stands in the place of one value of a masked column. Whether the value is read from an answer, or
 * seen in one that is to be kept, it is the same.
 */
final readonly class ValueMask
{
    public function __construct(private Masks $masks)
    {
    }

    /**
     * @param  list<array{list<string|int>, Column}>  $places  steps to the values of masked columns; of two that mean the same one the first counts
     * @param  mixed  $document  as it was decoded
     * @param  bool  $isUnusual  whether decoding may have changed some number
     * @param  \Closure(): (array{mixed, Digits}|null)  $exact  the same document with its digits; null where they are not known
     * @return list<array{list<string|int>, string}> steps, and what stands there then
     */
    public function all(array $places, #[\SensitiveParameter] mixed $document, bool $isUnusual, \Closure $exact): array
    {
        $texts = [];
        foreach ($places as [$steps, $column]) {
            $at = serialize($steps);
            $text = isset($texts[$at]) ? null : $this->of($column, Digits::step($document, $steps), $isUnusual, static function () use ($exact, $steps): ?array {
                $known = $exact();

                return $known === null ? null : [Digits::step($known[0], $steps), $known[1]];
            });
            if ($text !== null) {
                $texts[$at] = [$steps, $text];
            }
        }

        // What is masked as a whole comes last, so that nothing inside of it is looked for there.
        count($texts) > 1 && usort($texts, static fn (array $one, array $other): int => count($other[0]) <=> count($one[0]));

        return array_values($texts);
    }

    /**
     * @param  \Closure(): (array{mixed, Digits}|null)  $exact  the value with its digits; null where they are not known
     * @return string|null null where there is nothing to mask
     */
    private function of(Column $column, #[\SensitiveParameter] mixed $value, bool $isUnusual, \Closure $exact): ?string
    {
        if ($value === null || is_string($value) && (Masks::isMasked($value) || $this->masks->unfitReason($value) !== null)) {
            return null;
        }
        if (! $column->single && in_array($column->many, [ManyValues::Join, ManyValues::Json], true)) {
            return $this->element($column, $value, $exact);
        }
        $fit = ExactFit::of($column->type, $value, $isUnusual, static function () use ($column, $exact): ?string {
            [$found, $digits] = $exact() ?? [null, null];

            return $digits === null ? null : self::digits($column, $found, $digits);
        });

        return $fit instanceof Unfit ? $this->masks->unfit($fit->reason) : $this->masks->apply($column->mask, Canonical::of($column->type, $fit));
    }

    /**
     * One of several that become one cell: each is masked by itself, so that it is the same as where it
     * stands alone.
     *
     * @param  \Closure(): (array{mixed, Digits}|null)  $exact
     */
    private function element(Column $column, #[\SensitiveParameter] mixed $value, \Closure $exact): string
    {
        if (is_string($value)) {
            return $this->masks->apply($column->mask, $value);
        }
        if (is_array($value) || $value instanceof \stdClass) {
            if ($column->many === ManyValues::Join) {
                return $this->masks->unfit(Unfit::structure([])->reason);
            }
        }
        [$found, $digits] = $exact() ?? [null, null];
        $json = $digits === null ? JsonText::encode($value) : $digits->json($found);

        return $this->masks->apply($column->mask, Canonical::json($json));
    }

    private static function digits(Column $column, mixed $found, Digits $digits): ?string
    {
        if ($column->type instanceof JsonType) {
            return $digits->json($found);
        }
        $value = $digits->plain($found);

        return is_string($value) ? ($column->type instanceof IntegerType ? (string) preg_replace('/\.0+$/', '', $value) : $value) : null;
    }
}
