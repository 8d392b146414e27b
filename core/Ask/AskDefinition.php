<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

use DeepSpring\Ask\Body\Bodies;
use DeepSpring\Ask\Body\Body;

final readonly class AskDefinition
{
    /**
     * @param  list<Input>  $inputs
     * @param  array<string, string>  $headers
     * @param  array<string, string>  $bases  base addresses of its own, by environment; that of the source where it has none
     * @param  bool  $sendsAccess  whether what proves who asks goes to such an address as well, where it is another server
     */
    public function __construct(public string $method, public string $path, public array $inputs, public array $headers, public ?Body $body = null, public array $bases = [], public bool $sendsAccess = false)
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
            isset($ask['body']) ? Bodies::of($ask['body']) : null,
            $ask['base'] ?? [],
            ($ask['access'] ?? 'none') === 'source',
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

    /**
     * Everything that is wrong with the values, by input.
     *
     * @param  array<string, list<string>>  $given
     * @return array<string, InvalidInput>
     */
    public function faults(array $given): array
    {
        $faults = [];
        $known = array_map(static fn (Input $input): string => $input->name, array_filter($this->inputs, static fn (Input $input): bool => $input->fixed === null));
        foreach (array_diff(array_map(strval(...), array_keys($given)), $known) as $name) {
            $faults[$name] = InvalidInput::unknown($name, implode(', ', $known));
        }
        $filled = $this->filled($given);
        foreach ($this->inputs as $input) {
            $values = $input->chosen($given[$input->name] ?? null);
            $fault = $input->fault($values);
            if ($fault !== null) {
                $faults[$input->name] = InvalidInput::because($input->name, $fault);
            }
        }
        $excused = $this->body?->excused($filled) ?? [];
        foreach ($this->inputs as $input) {
            if (! isset($faults[$input->name]) && $input->required && in_array($input->chosen($given[$input->name] ?? null), [[], [Input::NOTHING]], true) && ! in_array($input->name, $excused, true)) {
                $because = $this->body?->demanded($input->name, $filled);
                $faults[$input->name] = $because === null ? InvalidInput::missing($input->name) : InvalidInput::because($input->name, $because);
            }
        }

        return $faults;
    }

    /**
     * Inputs that somebody filled: neither fixed nor left to their default.
     *
     * @param  array<string, list<string>>  $given
     * @return list<string>
     */
    public function filled(array $given): array
    {
        return array_values(array_map(static fn (Input $input): string => $input->name, array_filter($this->inputs, static fn (Input $input): bool => $input->fixed === null && ! in_array($given[$input->name] ?? [], [[], [''], [Input::NOTHING]], true) && $given[$input->name] !== $input->default)));
    }

    /**
     * Whether the request carries a key by which a service tells a repetition from a second request.
     *
     * @param  array<string, list<string>>  $given
     */
    public function hasIdempotencyKey(array $given): bool
    {
        foreach (array_keys($this->headers) as $name) {
            if (strcasecmp((string) $name, 'idempotency-key') === 0) {
                return true;
            }
        }
        foreach ($this->inputs as $input) {
            if ($input->in === Place::Header && strcasecmp($input->wireName(), 'idempotency-key') === 0) {
                return $input->chosen($given[$input->name] ?? null) !== [];
            }
        }

        return false;
    }
}
