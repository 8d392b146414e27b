<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Type;

use DeepSpring\Value\Unfit;

/**
 * What a column holds. A value that is not null becomes the text that the database reads back as
 * the same value, or an `Unfit` with the reason.
 */
interface ColumnType
{
    public function convert(mixed $value): string|Unfit;

    /**
     * As the source file calls it.
     */
    public function name(): string;

    /**
     * In a person's words.
     */
    public function label(): string;
}
