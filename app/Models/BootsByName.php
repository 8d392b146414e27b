<?php

declare(strict_types=1);

namespace App\Models;

/**
 * The traits of a model are set up by the names of their methods alone. The framework looks for attributes at each
 * of a model's thousand methods besides, which took a fifth of a short request; no trait here has any.
 */
trait BootsByName
{
    protected static function bootTraits(): void
    {
        $initializers = [];
        foreach (class_uses_recursive(static::class) as $trait) {
            $name = class_basename($trait);
            if (method_exists(static::class, "boot$name")) {
                static::{"boot$name"}();
            }
            if (method_exists(static::class, "initialize$name")) {
                $initializers[] = "initialize$name";
            }
        }
        static::$traitInitializers[static::class] = $initializers;
    }
}
