<?php

declare(strict_types=1);

namespace DeepSpring\Expression;

use Brick\Math\BigDecimal;
use DeepSpring\Expression\Functions\Library;
use DeepSpring\Expression\Node\ExpressionNode;

/**
 * A text → what computes a value from a row. Made once, used for every record.
 */
final readonly class Expression
{
    /** @var \Closure(array<mixed>): mixed */
    private \Closure $run;

    private function __construct(public string $text, private ExpressionNode $node)
    {
        $this->run = $node->compile();
    }

    /**
     * @param  \DateTimeImmutable|null  $now  what today() and now() say; they fail without it
     *
     * @throws InvalidExpression
     */
    public static function of(string $text, Scope $scope, ?\DateTimeImmutable $now = null): self
    {
        return new self($text, (new ExpressionParser($text, $scope, new Library($now)))->parse());
    }

    /**
     * One that says yes or no.
     *
     * @throws InvalidExpression
     */
    public static function condition(string $text, Scope $scope, ?\DateTimeImmutable $now = null): self
    {
        $expression = self::of($text, $scope, $now);
        if (! ValueKind::Boolean->takes($expression->kind())) {
            throw InvalidExpression::at(0, "a condition is true or false, and this is {$expression->kind()->value}.");
        }

        return $expression;
    }

    public function kind(): ValueKind
    {
        return $this->node->kind();
    }

    /**
     * The value as a column type takes it: null, bool, int, text, or the digits of a number.
     *
     * @param  array<mixed>  $row  values of the columns of the scope, as the database reads them
     *
     * @throws CannotEvaluate
     */
    public function value(array $row): mixed
    {
        $value = ($this->run)($row);

        return $value instanceof BigDecimal ? ExactNumbers::text($value) : $value;
    }

    /**
     * @param  array<mixed>  $row
     *
     * @throws CannotEvaluate
     */
    public function holds(array $row): bool
    {
        return ($this->run)($row) === true;
    }
}
