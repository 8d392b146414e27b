<?php

declare(strict_types=1);

namespace DeepSpring\Access;

use DeepSpring\Value\Kind\Declared;

/**
 * A scheme that can be chosen in a source file, with the settings that it declares.
 */
interface AccessScheme extends Declared, Scheme
{
    /**
     * @param  array<string, mixed>  $entry  valid by the schema, variables filled in
     * @param  string  $base  address that paths of sign-in requests go on from
     * @param  list<Scheme>  $before  those that were applied before it
     */
    public static function of(array $entry, string $base, array $before): self;
}
