<?php

declare(strict_types=1);

namespace DeepSpring\Expression;

use DeepSpring\Expression\Functions\Library;
use DeepSpring\Expression\Node\ArithmeticNode;
use DeepSpring\Expression\Node\CallNode;
use DeepSpring\Expression\Node\ColumnNode;
use DeepSpring\Expression\Node\ComparisonNode;
use DeepSpring\Expression\Node\ExpressionNode;
use DeepSpring\Expression\Node\ItemsNode;
use DeepSpring\Expression\Node\LiteralNode;
use DeepSpring\Expression\Node\LogicNode;
use DeepSpring\Expression\Node\MemberNode;
use DeepSpring\Expression\Node\NotNode;

/**
 * or < and < not < comparison and in < + - < * / % < sign; then what stands in brackets, a call, a
 * list, a name or a value.
 */
final class ExpressionParser
{
    private const DEEPEST = 60;

    private const MOST_NODES = 500;

    /** @var non-empty-list<ExpressionToken> */
    private readonly array $tokens;

    private int $at = 0;

    private int $depth = 0;

    private int $nodes = 0;

    /**
     * @throws InvalidExpression
     */
    public function __construct(string $text, private readonly Scope $scope, private readonly Library $library)
    {
        $this->tokens = ExpressionLexer::tokens($text);
    }

    /**
     * @throws InvalidExpression
     */
    public function parse(): ExpressionNode
    {
        if ($this->now()->kind === ExpressionTokenKind::End) {
            throw InvalidExpression::at(0, 'there is nothing here yet.');
        }
        $node = $this->either();
        if ($this->now()->kind !== ExpressionTokenKind::End) {
            throw InvalidExpression::at($this->now()->position, $this->now()->is(')', ']') ? "this {$this->now()->text} closes nothing." : "\"{$this->now()->text}\" cannot stand here; a comparison, a sign or \"and\" would have to come before it.");
        }

        return $node;
    }

    private function either(): ExpressionNode
    {
        $this->descend();
        $left = $this->both();
        while ($this->now()->is('or')) {
            $position = $this->next()->position;
            $left = $this->made(new LogicNode(false, $left, $this->both(), $position));
        }
        $this->depth--;

        return $left;
    }

    private function both(): ExpressionNode
    {
        $left = $this->negation();
        while ($this->now()->is('and')) {
            $position = $this->next()->position;
            $left = $this->made(new LogicNode(true, $left, $this->negation(), $position));
        }

        return $left;
    }

    private function negation(): ExpressionNode
    {
        if (! $this->now()->is('not')) {
            return $this->comparison();
        }
        $this->descend();
        $position = $this->next()->position;
        $node = $this->made(new NotNode($this->negation(), $position));
        $this->depth--;

        return $node;
    }

    private function comparison(): ExpressionNode
    {
        $left = $this->sum();
        $sign = $this->now();
        if ($sign->is('==', '===', '!=', '!==', '<', '<=', '>', '>=')) {
            $this->next();
            $node = $this->made(new ComparisonNode(['===' => '==', '!==' => '!='][$sign->text] ?? $sign->text, $left, $this->sum(), $sign->position));
            if ($this->now()->is('==', '===', '!=', '!==', '<', '<=', '>', '>=')) {
                throw InvalidExpression::at($this->now()->position, 'two comparisons in a row; join them with "and".');
            }

            return $node;
        }
        $isNot = $sign->is('not') && ($this->tokens[$this->at + 1] ?? $sign)->is('in');
        if ($isNot || $sign->is('in')) {
            $this->at += $isNot ? 2 : 1;
            $node = $this->made(new MemberNode($left, $this->sum(), $sign->position));

            return $isNot ? $this->made(new NotNode($node, $sign->position)) : $node;
        }

        return $left;
    }

    private function sum(): ExpressionNode
    {
        $left = $this->product();
        while ($this->now()->is('+', '-')) {
            $sign = $this->next();
            $left = $this->made(new ArithmeticNode($sign->text, $left, $this->product(), $sign->position));
        }

        return $left;
    }

    private function product(): ExpressionNode
    {
        $left = $this->signed();
        while ($this->now()->is('*', '/', '%')) {
            $sign = $this->next();
            $left = $this->made(new ArithmeticNode($sign->text, $left, $this->signed(), $sign->position));
        }

        return $left;
    }

    private function signed(): ExpressionNode
    {
        if (! $this->now()->is('-')) {
            return $this->value();
        }
        $this->descend();
        $sign = $this->next();
        $node = $this->made(new ArithmeticNode('-', new LiteralNode(0, ValueKind::Number, $sign->position), $this->signed(), $sign->position));
        $this->depth--;

        return $node;
    }

    private function value(): ExpressionNode
    {
        $token = $this->next();
        if ($token->kind === ExpressionTokenKind::Number) {
            return $this->made(LiteralNode::number($token->text, $token->position));
        }
        if ($token->kind === ExpressionTokenKind::Text) {
            return $this->made(new LiteralNode($token->text, ValueKind::Text, $token->position));
        }
        if ($token->is('true', 'false')) {
            return $this->made(new LiteralNode($token->text === 'true', ValueKind::Boolean, $token->position));
        }
        if ($token->is('null')) {
            return $this->made(new LiteralNode(null, ValueKind::Any, $token->position));
        }
        if ($token->is('(')) {
            $node = $this->either();
            $this->expect(')', $token);

            return $node;
        }
        if ($token->is('[')) {
            return $this->made(new ItemsNode($this->several(']', $token), $token->position));
        }
        if ($token->kind === ExpressionTokenKind::Name && $this->now()->is('(')) {
            $function = $this->library->find($token->text) ?? throw InvalidExpression::unknown($token->position, 'function', $token->text, $this->library->names());

            return $this->made(new CallNode($function, $this->several(')', $this->next()), $token->position));
        }
        if ($token->kind === ExpressionTokenKind::Name) {
            $place = $this->scope->place($token->text);
            if ($place === null) {
                $isFunction = $this->library->find($token->text) !== null;

                throw $isFunction ? InvalidExpression::at($token->position, "{$token->text} is a function; its values stand in brackets behind it.") : InvalidExpression::unknown($token->position, 'column before this one named', $token->text, $this->scope->names());
            }

            return $this->made(new ColumnNode($place, $this->scope->type($place), $token->position));
        }

        throw InvalidExpression::at($token->position, $token->kind === ExpressionTokenKind::End ? 'something is missing here.' : "\"{$token->text}\" cannot stand here; a value is missing before it.");
    }

    /**
     * @return list<ExpressionNode>
     */
    private function several(string $close, ExpressionToken $opened): array
    {
        $nodes = [];
        while (! $this->now()->is($close)) {
            $nodes[] = $this->either();
            if (! $this->now()->is(',')) {
                break;
            }
            $this->next();
        }
        $this->expect($close, $opened);

        return $nodes;
    }

    private function expect(string $close, ExpressionToken $opened): void
    {
        if (! $this->now()->is($close)) {
            throw InvalidExpression::at($this->now()->position, $this->now()->kind === ExpressionTokenKind::End ? "\"$close\" is missing, for the \"{$opened->text}\" at character ".($opened->position + 1).'.' : "\"{$this->now()->text}\" cannot stand here; \"$close\" or a comma was expected.");
        }
        $this->next();
    }

    /** @phpstan-impure */
    private function now(): ExpressionToken
    {
        return $this->tokens[min($this->at, count($this->tokens) - 1)];
    }

    private function next(): ExpressionToken
    {
        $token = $this->now();
        $this->at++;

        return $token;
    }

    private function descend(): void
    {
        if (++$this->depth > self::DEEPEST) {
            throw InvalidExpression::at($this->now()->position, 'this is nested too deeply; compute parts of it in columns of their own.');
        }
    }

    private function made(ExpressionNode $node): ExpressionNode
    {
        if (++$this->nodes > self::MOST_NODES) {
            throw InvalidExpression::at($this->now()->position, 'this has too many parts; compute some in columns of their own.');
        }

        return $node;
    }
}
