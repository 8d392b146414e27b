<?php

declare(strict_types=1);

namespace App\Queries;

use DeepSpring\Sql\StatementFault;

/**
 * A query that was not run, or that the database gave up, in a sentence.
 */
final class QueryRefused extends \RuntimeException
{
    private function __construct(string $sentence, ?\Throwable $previous, public readonly ?StatementFault $fault = null)
    {
        parent::__construct($sentence, 0, $previous);
    }

    public static function because(string $sentence, ?\Throwable $previous = null): self
    {
        return new self($sentence, $previous);
    }

    /**
     * With the place in the statement.
     */
    public static function at(StatementFault $fault, ?\Throwable $previous = null): self
    {
        return new self($fault->sentence, $previous, $fault);
    }
}
