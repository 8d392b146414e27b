<?php

declare(strict_types=1);

namespace DeepSpring\Check;

/**
 * What was seen of a column in some rows.
 */
final readonly class ColumnSeen
{
    /**
     * @param  string  $type  of a source file
     * @param  int  $rows  that were looked at
     * @param  int  $filled  of them with a value; a text without characters is none
     * @param  int  $distinct  values
     * @param  string|null  $least  as the database writes it
     * @param  list<string>  $values  some of them, each once; all of them where there are few
     */
    public function __construct(public string $name, public string $type, public int $rows, public int $filled, public int $distinct, public ?string $least, public ?string $largest, public array $values = [])
    {
    }
}
