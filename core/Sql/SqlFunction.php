<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

/**
 * A function of MariaDB.
 */
final readonly class SqlFunction
{
    /**
     * @param  string  $group  what it is for
     * @param  string  $form  how it is called
     * @param  string  $says  what it gives
     * @param  string  $example  that can stand in a SELECT as it is
     */
    public function __construct(public string $name, public string $group, public string $form, public string $says, public string $example)
    {
    }
}
