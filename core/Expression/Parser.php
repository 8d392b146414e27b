<?php

declare(strict_types=1);

namespace DeepSpring\Expression;

use DeepSpring\Expression\Functions\Library;
use DeepSpring\Expression\Node\Arithmetic;
use DeepSpring\Expression\Node\Call;
use DeepSpring\Expression\Node\Column;
use DeepSpring\Expression\Node\Comparison;
use DeepSpring\Expression\Node\Items;
use DeepSpring\Expression\Node\Literal;
use DeepSpring\Expression\Node\Logic;
use DeepSpring\Expression\Node\Member;
use DeepSpring\Expression\Node\Node;
use DeepSpring\Expression\Node\Not;

/**
 * or < and < not < comparison and in < + - < * / % < sign; then what stands in brackets, a call, a
 * list, a name or a value.
 */
final class Parser
{
    private const DEEPEST = 60;

    private const MOST_NODES = 500;

    /** @var non-empty-list<Token> */
    private readonly array $tokens;

    private int $at = 0;

    private int $depth = 0;

    private int $nodes = 0;

    /**
     * @throws InvalidExpression
     */
    public function __construct(string $text, private readonly Scope $scope, private readonly Library $library)
    {
        $this->tokens = Lexer::tokens($text);
    }

    /**
     * @throws InvalidExpression
     */
    public function parse(): Node
    {
        if ($this->now()->kind === TokenKind::End) {
            throw InvalidExpression::at(0, 'there is nothing here yet.');
        }
        $node = $this->either();
        if ($this->now()->kind !== TokenKind::End) {
            throw InvalidExpression::at($this->now()->position, $this->now()->is(')', ']') ? "this {$this->now()->text} closes nothing." : "\"{$this->now()->text}\" cannot stand here; a comparison, a sign or \"and\" would have to come before it.");
        }

        return $node;
    }

    private function either(): Node
    {
        $this->descend();
        $left = $this->both();
        while ($this->now()->is('or')) {
            $position = $this->next()->position;
            $left = $this->made(new Logic(false, $left, $this->both(), $position));
        }
        $this->depth--;

        return $left;
    }

    private function both(): Node
    {
        $left = $this->negation();
        while ($this->now()->is('and')) {
            $position = $this->next()->position;
            $left = $this->made(new Logic(true, $left, $this->negation(), $position));
        }

        return $left;
    }

    private function negation(): Node
    {
        if (! $this->now()->is('not')) {
            return $this->comparison();
        }
        $this->descend();
        $position = $this->next()->position;
        $node = $this->made(new Not($this->negation(), $position));
        $this->depth--;

        return $node;
    }

    private function comparison(): Node
    {
        $left = $this->sum();
        $sign = $this->now();
        if ($sign->is('==', '===', '!=', '!==', '<', '<=', '>', '>=')) {
            $this->next();
            $node = $this->made(new Comparison(['===' => '==', '!==' => '!='][$sign->text] ?? $sign->text, $left, $this->sum(), $sign->position));
            if ($this->now()->is('==', '===', '!=', '!==', '<', '<=', '>', '>=')) {
                throw InvalidExpression::at($this->now()->position, 'two comparisons in a row; join them with "and".');
            }

            return $node;
        }
        $isNot = $sign->is('not') && ($this->tokens[$this->at + 1] ?? $sign)->is('in');
        if ($isNot || $sign->is('in')) {
            $this->at += $isNot ? 2 : 1;
            $node = $this->made(new Member($left, $this->sum(), $sign->position));

            return $isNot ? $this->made(new Not($node, $sign->position)) : $node;
        }

        return $left;
    }

    private function sum(): Node
    {
        $left = $this->product();
        while ($this->now()->is('+', '-')) {
            $sign = $this->next();
            $left = $this->made(new Arithmetic($sign->text, $left, $this->product(), $sign->position));
        }

        return $left;
    }

    private function product(): Node
    {
        $left = $this->signed();
        while ($this->now()->is('*', '/', '%')) {
            $sign = $this->next();
            $left = $this->made(new Arithmetic($sign->text, $left, $this->signed(), $sign->position));
        }

        return $left;
    }

    private function signed(): Node
    {
        if (! $this->now()->is('-')) {
            return $this->value();
        }
        $this->descend();
        $sign = $this->next();
        $node = $this->made(new Arithmetic('-', new Literal(0, Kind::Number, $sign->position), $this->signed(), $sign->position));
        $this->depth--;

        return $node;
    }

    private function value(): Node
    {
        $token = $this->next();
        if ($token->kind === TokenKind::Number) {
            return $this->made(Literal::number($token->text, $token->position));
        }
        if ($token->kind === TokenKind::Text) {
            return $this->made(new Literal($token->text, Kind::Text, $token->position));
        }
        if ($token->is('true', 'false')) {
            return $this->made(new Literal($token->text === 'true', Kind::Boolean, $token->position));
        }
        if ($token->is('null')) {
            return $this->made(new Literal(null, Kind::Any, $token->position));
        }
        if ($token->is('(')) {
            $node = $this->either();
            $this->expect(')', $token);

            return $node;
        }
        if ($token->is('[')) {
            return $this->made(new Items($this->several(']', $token), $token->position));
        }
        if ($token->kind === TokenKind::Name && $this->now()->is('(')) {
            $function = $this->library->find($token->text) ?? throw InvalidExpression::unknown($token->position, 'function', $token->text, $this->library->names());

            return $this->made(new Call($function, $this->several(')', $this->next()), $token->position));
        }
        if ($token->kind === TokenKind::Name) {
            $place = $this->scope->place($token->text);
            if ($place === null) {
                $isFunction = $this->library->find($token->text) !== null;

                throw $isFunction ? InvalidExpression::at($token->position, "{$token->text} is a function; its values stand in brackets behind it.") : InvalidExpression::unknown($token->position, 'column before this one named', $token->text, $this->scope->names());
            }

            return $this->made(new Column($place, $this->scope->type($place), $token->position));
        }

        throw InvalidExpression::at($token->position, $token->kind === TokenKind::End ? 'something is missing here.' : "\"{$token->text}\" cannot stand here; a value is missing before it.");
    }

    /**
     * @return list<Node>
     */
    private function several(string $close, Token $opened): array
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

    private function expect(string $close, Token $opened): void
    {
        if (! $this->now()->is($close)) {
            throw InvalidExpression::at($this->now()->position, $this->now()->kind === TokenKind::End ? "\"$close\" is missing, for the \"{$opened->text}\" at character ".($opened->position + 1).'.' : "\"{$this->now()->text}\" cannot stand here; \"$close\" or a comma was expected.");
        }
        $this->next();
    }

    /** @phpstan-impure */
    private function now(): Token
    {
        return $this->tokens[min($this->at, count($this->tokens) - 1)];
    }

    private function next(): Token
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

    private function made(Node $node): Node
    {
        if (++$this->nodes > self::MOST_NODES) {
            throw InvalidExpression::at($this->now()->position, 'this has too many parts; compute some in columns of their own.');
        }

        return $node;
    }
}
