<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

/**
 * A value that did not fit a column whose `on_bad` is `fail`.
 */
final class FlattenFailure extends \RuntimeException
{
    public function __construct(public readonly Reject $reject)
    {
        parent::__construct("{$reject->table}.{$reject->column} is set to stop at a value that does not fit: {$reject->path} is {$reject->reason}.");
    }
}
