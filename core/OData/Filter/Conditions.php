<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter;

use DeepSpring\OData\Filter\Node\FilterAmong;
use DeepSpring\OData\Filter\Node\FilterCall;
use DeepSpring\OData\Filter\Node\FilterComparison;
use DeepSpring\OData\Filter\Node\FilterConstant;
use DeepSpring\OData\Filter\Node\FilterJoined;
use DeepSpring\OData\Filter\Node\FilterLambda;
use DeepSpring\OData\Filter\Node\FilterMember;
use DeepSpring\OData\Filter\Node\FilterNegated;
use DeepSpring\OData\Filter\Node\FilterNode;
use DeepSpring\OData\Model\Model;
use DeepSpring\OData\Model\StructuredType;
use DeepSpring\OData\Url\InvalidLiteral;
use DeepSpring\OData\Url\ODataLiteral;

/**
 * Conditions, all of which must hold, ↔ a filter.
 */
final readonly class Conditions
{
    private const SEARCHING = ['contains', 'startswith', 'endswith'];

    public function __construct(private Model $model, private StructuredType $type)
    {
    }

    /**
     * @param  list<Condition>  $conditions
     *
     * @throws InvalidLiteral
     */
    public function write(array $conditions): string
    {
        return implode(' and ', array_map($this->one(...), $conditions));
    }

    /**
     * The type of what a path leads to, and where it first goes through a collection.
     *
     * @return array{string, int|null}|null null when there is nothing there
     */
    public function look(string $path): ?array
    {
        $type = $this->type;
        $steps = explode('/', $path);
        $collection = null;
        foreach ($steps as $place => $step) {
            $property = $type->property($step);
            $navigation = $type->navigation($step);
            if ($property === null && $navigation === null) {
                return null;
            }
            $collection ??= ($property->many ?? $navigation->many ?? false) ? $place : null;
            $name = $property->type ?? $navigation->type ?? '';
            if ($place === count($steps) - 1) {
                return [$name, $collection];
            }
            $type = $this->model->type($name);
            if ($type === null) {
                return null;
            }
        }

        return null;
    }

    /**
     * @throws InvalidLiteral
     */
    private function one(Condition $condition): string
    {
        [$type, $collection] = $this->look($condition->path) ?? ['Edm.String', null];
        $steps = explode('/', $condition->path);
        if ($collection === null) {
            return $this->text($condition->path, $condition, $type);
        }
        $rest = implode('/', ['x', ...array_slice($steps, $collection + 1)]);

        return implode('/', array_slice($steps, 0, $collection + 1))."/any(x:{$this->text($rest, $condition, $type)})";
    }

    /**
     * @throws InvalidLiteral
     */
    private function text(string $path, Condition $condition, string $type): string
    {
        $literal = new ODataLiteral($this->model->version, $this->model);
        $operator = $condition->operator;
        if ($operator === 'empty' || $operator === 'filled') {
            return "$path ".($operator === 'empty' ? 'eq' : 'ne').' null';
        }
        if ($operator === 'in') {
            $values = array_map(static fn (string $value): string => $literal->write(trim($value), $type), explode(',', $condition->value));

            return $this->model->version->isV4() && $this->model->written === '4.01' ? "$path in (".implode(',', $values).')' : (count($values) === 1 ? "$path eq $values[0]" : '('.implode(' or ', array_map(static fn (string $value): string => "$path eq $value", $values)).')');
        }
        if (in_array($operator, self::SEARCHING, true)) {
            $value = $literal->write($condition->value, 'Edm.String');

            return $operator === 'contains' && ! $this->model->version->isV4() ? "substringof($value,$path)" : "$operator($path,$value)";
        }
        // In the version that has them as plain texts, the word null stands for no value; a text "null" is quoted.
        $value = $condition->value === 'null' && $this->model->primitive($type) === 'Edm.String' ? "'null'" : $literal->write($condition->value, $type);

        return "$path $operator $value";
    }

    /**
     * A filter as conditions; null when it says something that they cannot.
     *
     * @return list<Condition>|null
     */
    public function read(string $filter): ?array
    {
        if (trim($filter) === '') {
            return [];
        }
        try {
            return $this->conditions(FilterParser::parse($filter), '', '');
        } catch (InvalidFilter) {
            return null;
        }
    }

    /**
     * @return list<Condition>|null
     */
    private function conditions(FilterNode $node, string $variable, string $prefix): ?array
    {
        if ($node instanceof FilterJoined && $node->operator === 'and' && $variable === '') {
            $left = $this->conditions($node->left, $variable, $prefix);
            $right = $this->conditions($node->right, $variable, $prefix);

            return $left === null || $right === null ? null : [...$left, ...$right];
        }
        if ($node instanceof FilterLambda && ! $node->all && $node->of !== null && $variable === '' && $node->over instanceof FilterMember) {
            return $this->conditions($node->of, $node->variable, implode('/', $node->over->steps).'/');
        }
        $condition = $this->condition($node, $variable, $prefix);

        return $condition === null || $node instanceof FilterNegated ? null : [$condition];
    }

    private function condition(FilterNode $node, string $variable, string $prefix): ?Condition
    {
        if ($node instanceof FilterComparison && $node->left instanceof FilterMember && $node->right instanceof FilterConstant && isset(Condition::OPERATORS[$node->operator])) {
            $path = $this->path($node->left, $variable, $prefix);
            $value = self::plain($node->right);
            if ($path === null) {
                return null;
            }

            return $node->right->type === '' && in_array($node->operator, ['eq', 'ne'], true) ? new Condition($path, $node->operator === 'eq' ? 'empty' : 'filled', '') : new Condition($path, $node->operator, $value);
        }
        if ($node instanceof FilterAmong && $node->left instanceof FilterMember) {
            $path = $this->path($node->left, $variable, $prefix);
            $values = array_map(static fn (FilterNode $item): ?string => $item instanceof FilterConstant ? self::plain($item) : null, $node->items);

            return $path === null || in_array(null, $values, true) || array_filter($values, static fn (?string $value): bool => str_contains((string) $value, ',')) !== [] ? null : new Condition($path, 'in', implode(', ', $values));
        }
        if ($node instanceof FilterCall && count($node->arguments) === 2) {
            [$first, $second] = $node->name === 'substringof' ? [$node->arguments[1], $node->arguments[0]] : $node->arguments;
            $operator = $node->name === 'substringof' ? 'contains' : $node->name;
            if (in_array($operator, self::SEARCHING, true) && $first instanceof FilterMember && $second instanceof FilterConstant) {
                $path = $this->path($first, $variable, $prefix);

                return $path === null ? null : new Condition($path, $operator, self::plain($second));
            }
        }

        return null;
    }

    private function path(FilterMember $member, string $variable, string $prefix): ?string
    {
        $steps = $member->steps;
        if ($variable !== '') {
            if (array_shift($steps) !== $variable) {
                return null;
            }
        }

        $path = rtrim($prefix.implode('/', $steps), '/');

        return $this->look($path) === null ? null : $path;
    }

    /**
     * A literal as a person types it.
     */
    private static function plain(FilterConstant $constant): string
    {
        if (str_contains($constant->text, "'")) {
            $text = str_replace("''", "'", substr((string) strstr($constant->text, "'"), 1, -1));

            return $constant->type === 'Edm.Binary' && preg_match('/^[xX]\'/', $constant->text) === 1 ? base64_encode((string) hex2bin($text)) : $text;
        }

        return preg_match('/^-?[\d.]+[lLmMdDfF]$/D', $constant->text) === 1 ? rtrim($constant->text, 'lLmMdDfF') : $constant->text;
    }
}
