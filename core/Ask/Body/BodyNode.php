<?php

declare(strict_types=1);

namespace DeepSpring\Ask\Body;

use DeepSpring\Ask\Template;

/**
 * What a node of a body tree is: an object with the one member `input`, `text` or `literal`, or a
 * value that stands for itself.
 */
final readonly class BodyNode
{
    private function __construct(public ?string $kind, public mixed $value)
    {
    }

    public static function of(mixed $node): self
    {
        $members = $node instanceof \stdClass ? get_object_vars($node) : [];
        if (count($members) === 1) {
            $name = (string) array_key_first($members);
            if ($name === 'literal' || in_array($name, ['input', 'text'], true) && is_string($members[$name])) {
                return new self($name, $members[$name]);
            }
        }

        return new self(null, $node);
    }

    /**
     * Names of the inputs in this very node.
     *
     * @return list<string>
     */
    public function names(): array
    {
        return match ($this->kind) {
            'input' => [$this->value],
            'text' => (new Template($this->value))->names(),
            default => [],
        };
    }

    /**
     * Whether it would be taken for an input or a text if its value were a name, which it is not. One
     * that holds an object is an object of the API: no node is written like that.
     */
    public static function isDoubtful(mixed $node): bool
    {
        $members = $node instanceof \stdClass ? get_object_vars($node) : [];

        return count($members) === 1 && in_array(array_key_first($members), ['input', 'text'], true) && ! is_string(current($members)) && ! current($members) instanceof \stdClass;
    }

    /**
     * A value of a JSON document → the node that stands for just that value.
     */
    public static function literally(mixed $value): mixed
    {
        $members = $value instanceof \stdClass ? get_object_vars($value) : [];
        if (count($members) === 1 && in_array(array_key_first($members), ['input', 'text', 'literal'], true)) {
            return (object) ['literal' => $value];
        }
        if ($value instanceof \stdClass) {
            $copy = new \stdClass;
            foreach ($members as $name => $member) {
                $copy->{$name} = self::literally($member);
            }

            return $copy;
        }

        return is_array($value) ? array_map(self::literally(...), $value) : $value;
    }
}
