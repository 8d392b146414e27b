<?php

declare(strict_types=1);

namespace DeepSpring\Change;

use DeepSpring\Ask\Input;
use DeepSpring\Ask\Place;
use DeepSpring\SourceFile\EndpointDefinition;

/**
 * An endpoint that gets or changes one record of a table, and which column fills which of its inputs.
 */
final readonly class BoundEndpoint
{
    /**
     * @param  array<string, string>  $columns  by input
     * @param  int  $most  records that it takes in one request
     * @param  array<string, string>  $puts  of an action: paths into its answer, by the column that they fill
     */
    public function __construct(public EndpointDefinition $endpoint, public array $columns, public string $name, public int $most = 1, public array $puts = [])
    {
    }

    /**
     * @return array<string, Input> by name
     */
    public function inputs(): array
    {
        return array_column($this->endpoint->ask()->inputs, null, 'name');
    }

    /**
     * Columns by which the record is found: those that stand in the address.
     *
     * @return list<string>
     */
    public function addressed(): array
    {
        return array_values(array_unique(array_filter(array_map(fn (Input $input): ?string => $input->in === Place::Body ? null : $this->columns[$input->name] ?? null, array_values($this->inputs())))));
    }

    /**
     * Inputs that a person fills: no column does, and nothing is fixed.
     *
     * @return list<Input>
     */
    public function asked(): array
    {
        return array_values(array_filter($this->inputs(), fn (Input $input): bool => $input->fixed === null && ! $input->private && ! isset($this->columns[$input->name]) && ! self::isMark($input) && ! self::isState($input)));
    }

    /**
     * The input that carries the mark by which a service tells a repetition from a second request; null where there is
     * none.
     */
    public function mark(): ?Input
    {
        foreach ($this->inputs() as $input) {
            if (self::isMark($input)) {
                return $input;
            }
        }

        return null;
    }

    /**
     * Whether the same request may be sent again, since the service knows it by its mark.
     */
    public function isRepeatable(): bool
    {
        return $this->most === 1 && $this->mark() !== null;
    }

    /**
     * The input that says which state of the record is meant (If-Match, RFC 9110 §13.1.1); null where there is none.
     */
    public function state(): ?Input
    {
        foreach ($this->inputs() as $input) {
            if (self::isState($input)) {
                return $input;
            }
        }

        return null;
    }

    private static function isState(Input $input): bool
    {
        return $input->in === Place::Header && strcasecmp($input->wireName(), 'if-match') === 0;
    }

    /**
     * Whether it is filled by itself, when a change is sent.
     */
    public static function fillsItself(Input $input): bool
    {
        return self::isMark($input) || self::isState($input);
    }

    private static function isMark(Input $input): bool
    {
        return $input->in === Place::Header && strcasecmp($input->wireName(), 'idempotency-key') === 0;
    }

    /**
     * Where inputs stand in what is sent, as in the document they come from: `$.insurance.value`.
     *
     * @return array<string, string> place → input
     */
    public function places(): array
    {
        $places = [];
        foreach (BodyPlaces::of($this->endpoint->endpoint['ask']['body'] ?? null) as $place => $input) {
            $places[$place] = $input;
        }

        return $places;
    }
}
