<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

/**
 * The values of all inputs of one request, checked against their types.
 */
final readonly class InputValues
{
    /**
     * @param  array<string, Input>  $inputs
     * @param  array<string, list<string>>  $values  empty where nothing is sent
     * @param  list<string>  $filled  by somebody
     */
    private function __construct(private array $inputs, private array $values, private array $filled)
    {
    }

    /**
     * @param  array<string, list<string>>  $given
     *
     * @throws InvalidInput
     */
    public static function of(AskDefinition $ask, array $given): self
    {
        $faults = $ask->faults($given);
        foreach ($faults as $fault) {
            throw $fault;
        }
        $inputs = [];
        $values = [];
        foreach ($ask->inputs as $input) {
            $inputs[$input->name] = $input;
            $values[$input->name] = $input->chosen($given[$input->name] ?? null);
        }

        return new self($inputs, $values, $ask->filled($given));
    }

    public function input(string $name): Input
    {
        return $this->inputs[$name] ?? throw InvalidInput::unknown($name, implode(', ', array_keys($this->inputs)));
    }

    /**
     * @return list<string>
     */
    public function all(string $name): array
    {
        return array_map(static fn (string $value): string => $value === Input::EMPTY ? '' : $value, array_values(array_diff($this->values[$name] ?? [], [Input::NOTHING])));
    }

    public function isGiven(string $name): bool
    {
        return ($this->values[$name] ?? []) !== [];
    }

    /**
     * Whether it is there to say that there shall be no value.
     */
    public function isNothing(string $name): bool
    {
        return ($this->values[$name] ?? []) === [Input::NOTHING];
    }

    /**
     * Whether somebody filled it, rather than it being fixed or left to its default.
     */
    public function isFilled(string $name): bool
    {
        return in_array($name, $this->filled, true);
    }

    /**
     * As one text, several joined as the input says.
     */
    public function text(string $name): string
    {
        return ($this->input($name)->many ?? ListStyle::Comma)->joined($this->all($name));
    }

    /**
     * As a JSON document holds it, with its own type; only for one that is given.
     */
    public function json(string $name): mixed
    {
        $input = $this->input($name);
        if ($this->isNothing($name)) {
            return null;
        }
        $values = array_map($input->json(...), $this->values[$name] ?? []);

        return $input->many === null ? $values[0] : $values;
    }
}
