<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Type;

use DeepSpring\Value\Kind\Declared;
use DeepSpring\Value\Moment\UnusablePattern;
use DeepSpring\Value\Unfit;

/**
 * What a column holds. A value that is not null becomes the text that the database reads back as
 * the same value, or an `Unfit` with the reason.
 */
interface ColumnType extends Declared
{
    /**
     * @param  array<string, mixed>  $column  of a source file, valid by the schema
     *
     * @throws UnusablePattern
     */
    public static function of(array $column, bool $inKey): self;

    public function convert(mixed $value): string|Unfit;

    public function storage(): Storage;

    /**
     * As the source file calls it.
     */
    public function name(): string;

    /**
     * In a person's words.
     */
    public function label(): string;
}
