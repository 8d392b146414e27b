<?php

declare(strict_types=1);

namespace DeepSpring\OData\Url;

use DeepSpring\Value\NearestName;

/**
 * A value cannot be written as a literal of its type.
 */
final class InvalidLiteral extends \RuntimeException
{
    public static function isNo(string $value, string $type, string $expected): self
    {
        return new self('"'.mb_strimwidth($value, 0, 60, '…', 'UTF-8')."\" is no $type: it should be $expected.");
    }

    /**
     * @param  list<string>  $members
     */
    public static function isNoMember(string $value, string $type, array $members): self
    {
        $nearest = NearestName::to($value, $members);

        return new self("\"$value\" is no member of $type".($nearest !== null ? "; \"$nearest\" was probably meant." : '; these are '.implode(', ', array_slice($members, 0, 12)).'.'));
    }

    public static function cannotBeWritten(string $type): self
    {
        return new self("A value of $type cannot stand in an address.");
    }
}
