<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Mask;

/**
 * Changes a document at a place that names and indexes lead to.
 */
final class Steps
{
    /**
     * Puts another value there, where there is one, in the document itself: a large one is not copied for each
     * of its values.
     *
     * @param  list<string|int>  $steps
     */
    public static function set(mixed &$document, array $steps, mixed $value): void
    {
        $at = &$document;
        foreach ($steps as $step) {
            if ($at instanceof \stdClass && property_exists($at, (string) $step)) {
                $at = &$at->{$step};
            } elseif (is_array($at) && array_key_exists($step, $at)) {
                $at = &$at[$step];
            } else {
                return;
            }
        }
        $at = $value;
    }

    /**
     * A document that shares nothing with the other.
     */
    public static function copy(mixed $document): mixed
    {
        return match (true) {
            $document instanceof \stdClass => (object) array_map(self::copy(...), get_object_vars($document)),
            is_array($document) => array_map(self::copy(...), $document),
            default => $document,
        };
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
