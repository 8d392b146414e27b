<?php

declare(strict_types=1);

namespace DeepSpring\Expression\Node;

use DeepSpring\Expression\CannotEvaluate;
use DeepSpring\Expression\Functions\Definition;
use DeepSpring\Expression\InvalidExpression;
use DeepSpring\Expression\Texts;
use DeepSpring\Expression\ValueKind;

/**
 * A function with its values.
 */
final readonly class CallNode implements ExpressionNode
{
    private ValueKind $kind;

    /**
     * @param  list<ExpressionNode>  $values
     *
     * @throws InvalidExpression
     */
    public function __construct(private Definition $function, private array $values, private int $position)
    {
        $count = count($values);
        if ($count < $function->least || $count > $function->most()) {
            $wanted = $function->least === $function->most() ? (string) $function->least : ($function->repeats ? "{$function->least} or more" : "{$function->least} to {$function->most()}");

            throw InvalidExpression::at($position, "{$function->name} takes $wanted ".($wanted === '1' ? 'value' : 'values').', and there '.($count === 1 ? 'is 1' : "are $count").": {$function->signature}.");
        }
        foreach ($values as $number => $node) {
            $wanted = $function->wants($number);
            if (! $wanted->takes($node->kind())) {
                throw InvalidExpression::kind($node->position(), $function->name, $wanted, $node->kind());
            }
        }
        if ($function->check !== null) {
            ($function->check)($values, $position);
        }
        $this->kind = $function->gives ?? self::common(array_slice($values, $function->givesFrom));
    }

    public function kind(): ValueKind
    {
        return $this->kind;
    }

    public function position(): int
    {
        return $this->position;
    }

    public function compile(): \Closure
    {
        $values = array_map(static fn (ExpressionNode $node): \Closure => $node->compile(), $this->values);
        $run = $this->function->run;
        if ($this->function->isLazy) {
            return static fn (array $row): mixed => $run($row, $values);
        }
        $asText = array_map(fn (int $number): bool => $this->function->wants($number) === ValueKind::Text, array_keys($values));
        $takesEmpty = $this->function->takesEmpty;
        $name = $this->function->name;

        return static function (array $row) use ($run, $values, $asText, $takesEmpty, $name): mixed {
            $given = [];
            foreach ($values as $number => $value) {
                $one = $value($row);
                if ($one === null && ! $takesEmpty) {
                    return null;
                }
                $given[] = $asText[$number] && ! is_string($one) && $one !== null ? Texts::of($one) : $one;
            }

            try {
                return $run(...$given);
            } catch (CannotEvaluate $cannot) {
                throw $cannot;
            } catch (\Throwable) {
                // No value ends a run, whatever the function made of it.
                throw CannotEvaluate::because("$name cannot work with this value");
            }
        };
    }

    /**
     * @param  list<ExpressionNode>  $nodes
     */
    private static function common(array $nodes): ValueKind
    {
        $kinds = [];
        foreach ($nodes as $node) {
            if (! $node instanceof LiteralNode || $node->value !== null) {
                $kinds[$node->kind()->value] = $node->kind();
            }
        }

        return count($kinds) === 1 ? array_values($kinds)[0] : ValueKind::Any;
    }
}
