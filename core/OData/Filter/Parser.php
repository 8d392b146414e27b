<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter;

use DeepSpring\OData\Filter\Node\Among;
use DeepSpring\OData\Filter\Node\Arithmetic;
use DeepSpring\OData\Filter\Node\Call;
use DeepSpring\OData\Filter\Node\Comparison;
use DeepSpring\OData\Filter\Node\Constant;
use DeepSpring\OData\Filter\Node\Joined;
use DeepSpring\OData\Filter\Node\Lambda;
use DeepSpring\OData\Filter\Node\Member;
use DeepSpring\OData\Filter\Node\Negated;
use DeepSpring\OData\Filter\Node\Node;

/**
 * A `$filter` → a tree, by precedence (OData 4.01 URL conventions §5.1.1.17): or, and, equality,
 * comparison, sums, products, not and minus.
 */
final class Parser
{
    private const DEEPEST = 100;

    /** Loosest first. */
    private const LEVELS = [['or'], ['and'], ['eq', 'ne', 'gt', 'ge', 'lt', 'le', 'has', 'in'], ['add', 'sub'], ['mul', 'div', 'divby', 'mod']];

    private int $place = 0;

    private int $depth = 0;

    /**
     * @param  list<Token>  $tokens
     */
    private function __construct(private readonly array $tokens)
    {
    }

    /**
     * @throws InvalidFilter
     */
    public static function parse(string $filter): Node
    {
        $self = new self(Lexer::tokens($filter));
        $node = $self->level(0);

        return $self->here()->kind === TokenKind::End ? $node : throw InvalidFilter::expected('a comparison, "and" or "or"', $self->here());
    }

    /**
     * @throws InvalidFilter
     */
    private function level(int $level): Node
    {
        if (! isset(self::LEVELS[$level])) {
            return $this->unary();
        }
        if (++$this->depth > self::DEEPEST * count(self::LEVELS)) {
            throw InvalidFilter::isTooDeep($this->here()->at);
        }
        $left = $this->level($level + 1);
        while ($this->here()->kind === TokenKind::Name && in_array($this->here()->text, self::LEVELS[$level], true)) {
            $operator = $this->take();
            $left = match (true) {
                $operator->text === 'in' => new Among($operator->at, $left, $this->items()),
                $level < 2 => new Joined($operator->at, $operator->text, $left, $this->level($level + 1)),
                $level === 2 => new Comparison($operator->at, $operator->text, $left, $this->level($level + 1)),
                default => new Arithmetic($operator->at, $operator->text, $left, $this->level($level + 1)),
            };
        }
        $this->depth--;

        return $left;
    }

    /**
     * @throws InvalidFilter
     */
    private function unary(): Node
    {
        $token = $this->here();
        if ($token->is('not') && ! $this->ahead()->is('/')) {
            $this->take();

            return new Negated($token->at, $this->deeper());
        }
        if ($token->is('-')) {
            $this->take();

            return new Arithmetic($token->at, 'minus', $this->deeper(), null);
        }

        return $this->primary();
    }

    /**
     * @throws InvalidFilter
     */
    private function deeper(): Node
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
    private function primary(): Node
    {
        $token = $this->take();
        if ($token->kind === TokenKind::Literal) {
            return new Constant($token->at, $token->text, $token->type);
        }
        if ($token->is('(')) {
            $node = $this->level(0);
            $this->expect(')');

            return $node;
        }
        if ($token->kind !== TokenKind::Name) {
            throw InvalidFilter::expected('a property, a value or a function', $token);
        }
        if ($this->here()->is('(')) {
            $this->take();

            return new Call($token->at, $token->text, $this->arguments());
        }

        return $this->path($token);
    }

    /**
     * @throws InvalidFilter
     */
    private function path(Token $first): Node
    {
        $steps = [$first->text];
        while ($this->here()->is('/')) {
            $this->take();
            $step = $this->take();
            if ($step->kind !== TokenKind::Name) {
                throw InvalidFilter::expected('a name', $step);
            }
            if (in_array($step->text, ['any', 'all'], true) && $this->here()->is('(')) {
                return $this->lambda(new Member($first->at, $steps), $step);
            }
            $steps[] = $step->text;
        }

        return new Member($first->at, $steps);
    }

    /**
     * @throws InvalidFilter
     */
    private function lambda(Member $over, Token $word): Lambda
    {
        $this->expect('(');
        if ($this->here()->is(')') && $word->text === 'any') {
            $this->take();

            return new Lambda($word->at, $over, false, '', null);
        }
        $variable = $this->take();
        if ($variable->kind !== TokenKind::Name) {
            throw InvalidFilter::expected("a variable, as in $word->text(x:x/Name eq 'a'),", $variable);
        }
        $this->expect(':');
        $of = $this->level(0);
        $this->expect(')');

        return new Lambda($word->at, $over, $word->text === 'all', $variable->text, $of);
    }

    /**
     * @return list<Node>
     *
     * @throws InvalidFilter
     */
    private function items(): array
    {
        $this->expect('(');

        return $this->arguments();
    }

    /**
     * @return list<Node>
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
            $arguments[] = $this->level(0);
            $goesOn = $this->here()->is(',');
            $goesOn && $this->take();
        } while ($goesOn);
        $this->expect(')');

        return $arguments;
    }

    private function here(): Token
    {
        return $this->tokens[$this->place];
    }

    private function ahead(): Token
    {
        return $this->tokens[$this->place + 1] ?? $this->tokens[$this->place];
    }

    private function take(): Token
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
