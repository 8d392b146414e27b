<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

enum ColumnSource: string
{
    case From = 'from';
    case Parent = 'parent';
    case Envelope = 'envelope';
    case Input = 'input';

    /** A column of the row that was asked for. */
    case Row = 'row';
    case Member = 'member';
    case Position = 'position';
    case Compute = 'compute';

    /**
     * @param  array<string, mixed>  $column  of a source file
     */
    public static function of(array $column): self
    {
        foreach (self::cases() as $case) {
            if (isset($column[$case->value])) {
                return $case;
            }
        }

        return self::From;
    }
}
