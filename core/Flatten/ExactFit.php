<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

use DeepSpring\Flatten\Type\ColumnType;
use DeepSpring\Flatten\Type\JsonType;
use DeepSpring\Flatten\Type\TextType;
use DeepSpring\Value\Unfit;

/**
 * A value as its column keeps it, with the digits that came where a float would change them.
 */
final class ExactFit
{
    /** From which on a float may stand for several numbers. */
    private const LARGE = 1e15;

    /**
     * @param  bool  $isUnusual  whether decoding may have changed some number of the document
     * @param  \Closure(): ?string  $digits  the value as it was written: JSON for a column of JSON, digits for the others; null where that is not known
     */
    public static function of(ColumnType $type, mixed $value, bool $isUnusual, \Closure $digits): string|Unfit
    {
        $fit = $type->convert($value);
        if ($type instanceof JsonType) {
            $mayDiffer = $fit instanceof Unfit ? $fit->needsDigits : $isUnusual || preg_match('/\d(?:\.\d|[eE]|\d{18})/', $fit) === 1;

            return $mayDiffer ? $digits() ?? $fit : $fit;
        }
        $isText = $type instanceof TextType;
        if (is_float($value) && ($isUnusual || $isText || abs($value) >= self::LARGE || $fit instanceof Unfit && $fit->needsDigits) || $value === 0 && $isUnusual && $isText) {
            $written = $digits();

            return $written === null ? $fit : $type->convert($written);
        }

        return $fit;
    }
}
