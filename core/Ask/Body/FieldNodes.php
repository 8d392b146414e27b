<?php

declare(strict_types=1);

namespace DeepSpring\Ask\Body;

use DeepSpring\Ask\InputValues;
use DeepSpring\Ask\Template;
use DeepSpring\Value\JsonText;

/**
 * The flat map of a form: each name stands for one value, in the same nodes that a JSON tree has.
 */
trait FieldNodes
{
    /**
     * @param  array<array-key, mixed>  $fields  name → node
     */
    public function __construct(private readonly array $fields)
    {
    }

    public static function of(array $body): self
    {
        $of = $body['of'] ?? null;

        return new self($of instanceof \stdClass ? get_object_vars($of) : (is_array($of) ? $of : []));
    }

    public function inputs(): array
    {
        $names = [];
        foreach ($this->fields as $field) {
            array_push($names, ...BodyNode::of($field)->names());
        }

        return array_values(array_unique($names));
    }

    public function faults(): array
    {
        $faults = [];
        foreach ($this->fields as $name => $field) {
            $node = BodyNode::of($field);
            if ($node->kind === 'text' && (new Template($node->value))->strayBrace() !== null) {
                $faults["of.$name"] = 'A brace stands alone; a literal brace is doubled.';
            }
            if ($node->kind === null && BodyNode::isDoubtful($field)) {
                $faults["of.$name"] = 'The name of an input is a text.';
            } elseif ($node->kind === null && ! is_scalar($field) && $field !== null) {
                $faults["of.$name"] = 'A form is flat: each field is one value, an input, a text or a literal.';
            }
        }

        return $faults;
    }

    public function excused(array $filled): array
    {
        return [];
    }

    public function demanded(string $input, array $filled): ?string
    {
        return null;
    }

    public function with(array $members): self
    {
        return new self($members + $this->fields);
    }

    /**
     * What a node stands for; null when it is not sent.
     */
    private function value(BodyNode $node, InputValues $values): ?string
    {
        if ($node->kind === 'text') {
            $template = new Template($node->value);

            return $template->names() !== [] && array_filter($template->names(), $values->isGiven(...)) === [] ? null : $template->fill($values->text(...));
        }

        return match (true) {
            $node->value === null => null,
            is_bool($node->value) => $node->value ? 'true' : 'false',
            is_string($node->value) => $node->value,
            default => JsonText::encode($node->value),
        };
    }
}
