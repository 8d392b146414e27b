<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Mask;

/**
 * What is kept in place of a value that should not be seen.
 */
enum ColumnMask: string
{
    case None = 'none';
    /** The same value always gives the same text, so tables still join. */
    case Hash = 'hash';
    case Redact = 'redact';
    /** Read again by those who may. */
    case Encrypt = 'encrypt';
}
