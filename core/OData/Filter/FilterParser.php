<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter;

use DeepSpring\OData\Filter\Node\FilterAmong;
use DeepSpring\OData\Filter\Node\FilterArithmetic;
use DeepSpring\OData\Filter\Node\FilterCall;
use DeepSpring\OData\Filter\Node\FilterComparison;
use DeepSpring\OData\Filter\Node\FilterConstant;
use DeepSpring\OData\Filter\Node\FilterJoined;
use DeepSpring\OData\Filter\Node\FilterLambda;
use DeepSpring\OData\Filter\Node\FilterMember;
use DeepSpring\OData\Filter\Node\FilterNegated;
use DeepSpring\OData\Filter\Node\FilterNode;
use DeepSpring\OData\Filter\Node\FilterReference;

/**
 * A `$filter` → a tree, by precedence (OData 4.01 URL conventions §5.1.1.17): or, and, equality,
 * comparison, sums, products, not and minus.
 */
final class FilterParser
{
    private const DEEPEST = 100;

    /** Loosest first. */
    private const LEVELS = [['or'], ['and'], ['eq', 'ne', 'gt', 'ge', 'lt', 'le', 'has', 'in'], ['add', 'sub'], ['mul', 'div', 'divby', 'mod']];

    private int $place = 0;

    private int $depth = 0;

    /**
     * @param  list<FilterToken>  $tokens
     */
    private function __construct(private readonly array $tokens)
    {
    }

    /**
     * @throws InvalidFilter
     */
    public static function parse(string $filter): FilterNode
    {
        $self = new self(FilterLexer::tokens($filter));
        $node = $self->level(0);

        return $self->here()->kind === FilterTokenKind::End ? $node : throw InvalidFilter::expected('a comparison, "and" or "or"', $self->here());
    }

    /**
     * @throws InvalidFilter
     */
    private function level(int $level): FilterNode
    {
        if (! isset(self::LEVELS[$level])) {
            return $this->unary();
        }
        if (++$this->depth > self::DEEPEST * count(self::LEVELS)) {
            throw InvalidFilter::isTooDeep($this->here()->at);
        }
        $left = $this->level($level + 1);
        while ($this->here()->kind === FilterTokenKind::Name && in_array($this->here()->text, self::LEVELS[$level], true)) {
            $operator = $this->take();
            $left = match (true) {
                $operator->text === 'in' => new FilterAmong($operator->at, $left, $this->items()),
                $level < 2 => new FilterJoined($operator->at, $operator->text, $left, $this->level($level + 1)),
                $level === 2 => new FilterComparison($operator->at, $operator->text, $left, $this->level($level + 1)),
                default => new FilterArithmetic($operator->at, $operator->text, $left, $this->level($level + 1)),
            };
        }
        $this->depth--;

        return $left;
    }

    /**
     * @throws InvalidFilter
     */
    private function unary(): FilterNode
    {
        $token = $this->here();
        if ($token->is('not') && ! $this->ahead()->is('/')) {
            $this->take();

            return new FilterNegated($token->at, $this->deeper());
        }
        if ($token->is('-')) {
            $this->take();

            return new FilterArithmetic($token->at, 'minus', $this->deeper(), null);
        }

        return $this->primary();
    }

    /**
     * @throws InvalidFilter
     */
    private function deeper(): FilterNode
    {
        if (++$this->depth > self::DEEPEST * count(self::LEVELS)) {
            throw InvalidFilter::isTooDeep($this->here()->at);
        }
        $node = $this->unary();
        $this->depth--;

        return $node;
    }

    /**
     * @throws InvalidFilter
     */
    private function primary(): FilterNode
    {
        $token = $this->take();
        if ($token->kind === FilterTokenKind::Literal) {
            return new FilterConstant($token->at, $token->text, $token->type);
        }
        if ($token->is('(')) {
            $node = $this->level(0);
            $this->expect(')');

            return $node;
        }
        if ($token->kind !== FilterTokenKind::Name) {
            throw InvalidFilter::expected('a property, a value or a function', $token);
        }
        if ($this->here()->is('(') && ! str_starts_with($token->text, '$')) {
            $this->take();
            $call = new FilterCall($token->at, $token->text, $this->arguments());

            return $this->here()->is('/') && ! in_array($token->text, ['any', 'all'], true) ? $this->further($token->at, [$call]) : $call;
        }

        return $this->path($token);
    }

    /**
     * The rest of a path that goes through keys, functions or filters of the service (OData 4.01 ABNF
     * `memberExpr`, `boundFunctionExpr`, `rootExpr`).
     *
     * @param  list<FilterNode>  $parts
     *
     * @throws InvalidFilter
     */
    private function further(int $at, array $parts): FilterNode
    {
        while (in_array($this->here()->text, ['(', '/'], true) && $this->here()->kind === FilterTokenKind::Mark) {
            if ($this->take()->is('(')) {
                array_push($parts, ...$this->arguments());

                continue;
            }
            $step = $this->take();
            if ($step->kind !== FilterTokenKind::Name) {
                throw InvalidFilter::expected('a name', $step);
            }
            if (in_array($step->text, ['any', 'all'], true) && $this->here()->is('(')) {
                return $this->lambda(new FilterReference($at, $parts), $step);
            }
        }

        return new FilterReference($at, $parts);
    }

    /**
     * @throws InvalidFilter
     */
    private function path(FilterToken $first): FilterNode
    {
        $steps = [$first->text];
        if ($this->here()->is('(')) {
            return $this->further($first->at, []);
        }
        while ($this->here()->is('/')) {
            $this->take();
            $step = $this->take();
            if ($step->kind !== FilterTokenKind::Name) {
                throw InvalidFilter::expected('a name', $step);
            }
            if (in_array($step->text, ['any', 'all'], true) && $this->here()->is('(')) {
                return $this->lambda(new FilterMember($first->at, $steps), $step);
            }
            if ($this->here()->is('(')) {
                return $this->further($first->at, [new FilterMember($first->at, $steps)]);
            }
            $steps[] = $step->text;
        }

        return new FilterMember($first->at, $steps);
    }

    /**
     * @throws InvalidFilter
     */
    private function lambda(FilterMember|FilterReference $over, FilterToken $word): FilterLambda
    {
        $this->expect('(');
        if ($this->here()->is(')') && $word->text === 'any') {
            $this->take();

            return new FilterLambda($word->at, $over, false, '', null);
        }
        $variable = $this->take();
        if ($variable->kind !== FilterTokenKind::Name) {
            throw InvalidFilter::expected("a variable, as in $word->text(x:x/Name eq 'a'),", $variable);
        }
        $this->expect(':');
        $of = $this->level(0);
        $this->expect(')');

        return new FilterLambda($word->at, $over, $word->text === 'all', $variable->text, $of);
    }

    /**
     * @return list<FilterNode>
     *
     * @throws InvalidFilter
     */
    private function items(): array
    {
        if (! $this->here()->is('(')) {
            // A collection, whose members are looked among.
            return [$this->level(count(self::LEVELS))];
        }
        $this->take();

        return $this->arguments();
    }

    /**
     * @return list<FilterNode>
     *
     * @throws InvalidFilter
     */
    private function arguments(): array
    {
        $arguments = [];
        if ($this->here()->is(')')) {
            $this->take();

            return [];
        }
        do {
            if ($this->here()->kind === FilterTokenKind::Name && $this->ahead()->is('=')) {
                // The name of a parameter.
                $this->take();
                $this->take();
            }
            $arguments[] = $this->level(0);
            // A condition of case(), and what it gives, stand together.
            $goesOn = $this->here()->is(',') || $this->here()->is(':');
            $goesOn && $this->take();
        } while ($goesOn);
        $this->expect(')');

        return $arguments;
    }

    private function here(): FilterToken
    {
        return $this->tokens[$this->place];
    }

    private function ahead(): FilterToken
    {
        return $this->tokens[$this->place + 1] ?? $this->tokens[$this->place];
    }

    /**
     * @phpstan-impure
     */
    private function take(): FilterToken
    {
        $token = $this->tokens[$this->place];
        $this->place = min($this->place + 1, count($this->tokens) - 1);

        return $token;
    }

    /**
     * @throws InvalidFilter
     */
    private function expect(string $mark): void
    {
        $token = $this->take();
        if (! $token->is($mark)) {
            throw InvalidFilter::expected("\"$mark\"", $token);
        }
    }
}
