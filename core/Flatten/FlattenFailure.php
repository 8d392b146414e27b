<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

use DeepSpring\Answer\JsonPath\TooCostly;

/**
 * Records that do not become rows: a value did not fit a column whose `on_bad` is `fail`, or a path
 * of a column takes more than it is given.
 */
final class FlattenFailure extends \RuntimeException
{
    public static function of(Reject $reject): self
    {
        return new self("{$reject->table}.{$reject->column} is set to stop at a value that does not fit: {$reject->path} is {$reject->reason}.");
    }

    public static function because(TooCostly $costly): self
    {
        return new self('The columns cannot be read: '.$costly->getMessage().'.');
    }
}
