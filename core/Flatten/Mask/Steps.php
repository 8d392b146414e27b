<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Mask;

/**
 * Walks down a document by names and indexes.
 */
final class Steps
{
    /**
     * @param  list<string|int>  $steps
     */
    public static function at(mixed $value, array $steps): mixed
    {
        foreach ($steps as $step) {
            $value = is_array($value) ? $value[$step] ?? null : ($value instanceof \stdClass ? $value->{$step} ?? null : null);
        }

        return $value;
    }

    /**
     * The document with another value there, where there is one; what is not on the way is shared.
     *
     * @param  list<string|int>  $steps
     */
    public static function changed(mixed $document, array $steps, mixed $value): mixed
    {
        if ($steps === []) {
            return $value;
        }
        $step = array_shift($steps);
        if ($document instanceof \stdClass && property_exists($document, (string) $step)) {
            $document = clone $document;
            $document->{$step} = self::changed($document->{$step}, $steps, $value);
        } elseif (is_array($document) && array_key_exists($step, $document)) {
            $document[$step] = self::changed($document[$step], $steps, $value);
        }

        return $document;
    }
}
