<?php

declare(strict_types=1);

namespace DeepSpring\History;

/**
 * A history that cannot be kept like that. The message is a sentence.
 */
final class InvalidHistory extends \InvalidArgumentException
{
    /**
     * @param  string  $where  below `keep.history`: "" or ".snapshots"
     */
    public function __construct(public readonly string $where, string $message)
    {
        parent::__construct($message);
    }
}
