<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Shell;

/**
 * One command of a text: its words, and what it is given to read.
 */
final readonly class ShellCommand
{
    /**
     * @param  list<string>  $words  at least one
     * @param  string|null  $input  what stands in the text for its standard input (`<<EOF`, `<<< word`); null when nothing does
     */
    public function __construct(public array $words, public ?string $input = null)
    {
    }
}
