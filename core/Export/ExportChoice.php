<?php

declare(strict_types=1);

namespace DeepSpring\Export;

/**
 * How a file is written.
 */
final readonly class ExportChoice
{
    public const SEPARATORS = ['comma' => ',', 'semicolon' => ';', 'tab' => "\t", 'bar' => '|'];

    public const ENCODINGS = ['utf-8' => 'UTF-8', 'utf-8-bom' => 'UTF-8 with a byte order mark', 'utf-16' => 'UTF-16LE with a byte order mark', 'latin1' => 'Windows-1252'];

    /**
     * @param  bool  $guard  whether a text that a spreadsheet would run gets an apostrophe in front
     * @param  string  $encoding  a key of ENCODINGS
     * @param  bool  $titles  whether columns are headed by what people call them, with their units
     */
    public function __construct(public bool $guard = false, public string $separator = ',', public string $encoding = 'utf-8', public bool $titles = false)
    {
    }
}
