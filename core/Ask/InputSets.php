<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

/**
 * What a table is read with: sets of values, each of which is one reading. Under `keep.inputs` of a source
 * file an input has one value, or a list of them that are read one after the other; where an input takes
 * several values at once, a list inside the list stands for those of one reading. Lists of several inputs
 * are combined.
 */
final readonly class InputSets
{
    /** Readings of one table. */
    public const MOST = 10_000;

    /**
     * @param  non-empty-list<array<string, list<string>>>  $sets  values by input
     * @param  array<string, list<list<string>>>  $chosen  as they stand in the file: by input, those of each reading
     */
    private function __construct(private AskDefinition $ask, public array $sets, private array $chosen, private ?RowInputs $rows = null)
    {
    }

    /**
     * @param  array<string, mixed>  $inputs  `keep.inputs`
     *
     * @throws InvalidInput when there are too many readings, or rows cannot be asked for so
     */
    public static function of(AskDefinition $ask, array $inputs): self
    {
        $rows = RowInputs::of($inputs);
        $inputs = array_filter($inputs, static fn (mixed $value): bool => ! RowInputs::isOne($value));
        $chosen = array_filter(array_map(self::readings(...), $inputs), static fn (array $readings): bool => $readings !== []);
        $sets = [[]];
        foreach ($chosen as $name => $readings) {
            if (count($sets) * count($readings) > self::MOST) {
                throw InvalidInput::because((string) $name, 'would make more than '.number_format(self::MOST, 0, '.', "\u{2009}").' readings of one table');
            }
            $more = [];
            foreach ($sets as $set) {
                foreach ($readings as $values) {
                    $more[] = $set + [$name => $values];
                }
            }
            $sets = $more;
        }

        return new self($ask, $sets, $chosen, $rows);
    }

    /**
     * One reading with these values.
     *
     * @param  array<string, list<string>>  $values
     */
    public static function ofOne(AskDefinition $ask, array $values): self
    {
        return new self($ask, [$values], array_map(static fn (array $one): array => [$one], $values));
    }

    public function count(): int
    {
        return count($this->sets);
    }

    /**
     * What is wrong with the values, or missing, by input.
     *
     * @return array<string, InvalidInput>
     */
    public function faults(): array
    {
        $faults = [];
        foreach ($this->sets as $set) {
            $faults += array_diff_key($this->ask->faults($set), $this->rows->bound ?? []);
        }

        return $faults;
    }

    /**
     * In words: "all of it", or "only status = open".
     */
    public function words(): string
    {
        $parts = [];
        foreach ($this->chosen as $name => $readings) {
            $parts[] = "$name = ".implode(', then ', array_map(static fn (array $values): string => implode(' and ', array_map(static fn (string $value): string => $value === '' ? '""' : $value, $values)), $readings));
        }

        if ($this->rows !== null) {
            return $this->rows->words().($parts === [] ? '' : '; '.implode('; ', $parts));
        }

        return $parts === [] ? 'all of it' : 'only '.implode('; ', $parts).($this->count() > 1 ? ', in '.$this->count().' readings' : '');
    }

    /**
     * Values that a column can hold, by input: what is sent in one reading.
     *
     * @param  array<string, list<string>>  $set
     * @return array<string, string>
     */
    public static function sent(AskDefinition $ask, array $set): array
    {
        $sent = array_map(static fn (array $values): string => implode(',', $values), $set);
        foreach ($ask->inputs as $input) {
            $values = $input->fixed ?? $input->default;
            if ($values !== null) {
                $sent[$input->name] = $input->fixed === null ? $sent[$input->name] ?? implode(',', $values) : implode(',', $values);
            }
        }

        return $sent;
    }

    /**
     * @return list<list<string>> the values of each reading
     */
    private static function readings(mixed $value): array
    {
        $readings = array_map(
            static fn (mixed $one): array => array_map(Input::text(...), is_array($one) ? array_values($one) : [$one]),
            is_array($value) ? array_values($value) : [$value],
        );

        return array_values(array_filter($readings, static fn (array $values): bool => $values !== []));
    }
}
