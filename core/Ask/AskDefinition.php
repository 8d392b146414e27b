<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

final readonly class AskDefinition
{
    /**
     * @param  list<Input>  $inputs
     * @param  array<string, string>  $headers
     */
    public function __construct(public string $method, public string $path, public array $inputs, public array $headers)
    {
    }

    /**
     * @param  array<string, mixed>  $ask  valid by the schema
     */
    public static function of(array $ask): self
    {
        return new self(
            $ask['method'] ?? 'GET',
            $ask['path'] ?? '/',
            array_values(array_map(Input::of(...), $ask['inputs'] ?? [])),
            array_map(strval(...), $ask['headers'] ?? []),
        );
    }

    /**
     * The values to try with, as a caller would give them.
     *
     * @return array<string, list<string>>
     */
    public function tryValues(): array
    {
        $values = [];
        foreach ($this->inputs as $input) {
            if ($input->fixed === null && $input->try !== null) {
                $values[$input->name] = $input->try;
            }
        }

        return $values;
    }
}
