<?php

declare(strict_types=1);

namespace DeepSpring\OData\Derive;

use DeepSpring\Value\SafeNames;

/**
 * Names of tables and columns from those of a service.
 */
final class Naming
{
    /**
     * A JSONPath down members (RFC 9535 §2.3.1, §2.5.1).
     *
     * @param  list<string>  $names
     */
    public static function path(array $names, bool $all = false): string
    {
        $path = '$';
        foreach ($names as $name) {
            $path .= preg_match('/^[A-Za-z_\x80-\x{10FFFF}][\w\x80-\x{10FFFF}]*$/Du', $name) === 1 ? ".$name" : "['".addcslashes($name, "'\\")."']";
        }

        return $path.($all ? '[*]' : '');
    }

    public static function table(string $name): string
    {
        return SafeNames::clean($name);
    }
}
