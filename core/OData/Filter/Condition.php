<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter;

/**
 * One line of a filter that is built by picking: a property, what is asked of it, a value.
 */
final readonly class Condition
{
    /** operator → how a person reads it */
    public const OPERATORS = ['eq' => 'is', 'ne' => 'is not', 'gt' => 'is more than', 'ge' => 'is at least', 'lt' => 'is less than', 'le' => 'is at most', 'contains' => 'contains', 'startswith' => 'begins with', 'endswith' => 'ends with', 'in' => 'is one of', 'empty' => 'is empty', 'filled' => 'is filled'];

    /**
     * @param  string  $path  of a property; through a collection it means that some of its members fit
     * @param  string  $value  as a person types it; several of them with commas for `in`
     */
    public function __construct(public string $path, public string $operator, public string $value)
    {
    }
}
