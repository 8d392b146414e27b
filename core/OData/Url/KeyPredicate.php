<?php

declare(strict_types=1);

namespace DeepSpring\OData\Url;

use DeepSpring\OData\Model\KeyPart;

/**
 * The key of one entity in a path: `(7)`, `('A''b')` or `(Object='0412.02',Line=3)`
 * (OData 4.01 URL conventions §4.3.1; the same in all versions).
 */
final readonly class KeyPredicate
{
    /**
     * With a template's name where each value goes; the values come as literals.
     *
     * @param  list<KeyPart>  $key
     */
    public static function template(array $key): string
    {
        $parts = array_map(static fn (KeyPart $part): string => (count($key) > 1 ? "$part->alias=" : '').'{'.$part->alias.'}', $key);

        return '('.implode(',', $parts).')';
    }
}
