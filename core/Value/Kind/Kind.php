<?php

declare(strict_types=1);

namespace DeepSpring\Value\Kind;

/**
 * What a kind is called, and its settings.
 */
final readonly class Kind
{
    /**
     * @param  string  $name  as the source file calls it
     * @param  string  $title  as the trade calls it
     * @param  string  $help  one line: when it is the right one
     * @param  list<Field>  $fields  in the order in which a form shows them
     */
    public function __construct(public string $name, public string $title, public string $help, public array $fields = [])
    {
    }

    public function field(string $name): ?Field
    {
        foreach ($this->fields as $field) {
            if ($field->name === $name) {
                return $field;
            }
        }

        return null;
    }

    /**
     * What a new one begins with, for a person to correct.
     *
     * @return array<string, mixed>
     */
    public function start(): array
    {
        $start = [];
        foreach ($this->fields as $field) {
            if ($field->start !== null) {
                $start[$field->name] = $field->start;
            }
        }

        return $start;
    }

    /**
     * The part of a JSON Schema that holds for an object of this kind.
     *
     * @param  string  $key  the member that names the kind
     * @return array<string, mixed>
     */
    public function schema(string $key): array
    {
        $required = [];
        $properties = [$key => true];
        foreach ($this->fields as $field) {
            $properties[$field->name] = $field->schema();
            if ($field->isRequired) {
                $required[] = $field->name;
            }
        }

        return [
            'if' => ['properties' => [$key => ['const' => $this->name]]],
            'then' => ($required === [] ? [] : ['required' => $required]) + ['properties' => $properties, 'additionalProperties' => false],
        ];
    }
}
