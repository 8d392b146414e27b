<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use DeepSpring\Ask\InvalidInput;
use DeepSpring\Check\Checks;
use DeepSpring\Check\InvalidCheck;
use DeepSpring\Check\TableCheck;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\KeptInputs;

/**
 * What a table is read with, as the stratum Keep shows it.
 */
final readonly class KeepFields
{
    public function __construct(private EndpointDefinition $definition)
    {
    }

    /**
     * What the table is read with, in words: "all of it", "only status = open".
     */
    public function readWith(): string
    {
        try {
            return $this->definition->keptWith()->words();
        } catch (InvalidInput $invalid) {
            return $invalid->getMessage();
        }
    }

    /**
     * Inputs that a table can be read with.
     *
     * @return list<array{name: string, text: string, lines: int, isMany: bool, isNeeded: bool, default: string}>
     */
    public function inputs(): array
    {
        $inputs = [];
        foreach ($this->definition->ask()->inputs as $input) {
            if ($input->fixed === null) {
                $text = KeptInputs::text($this->definition->endpoint['keep']['inputs'][$input->name] ?? null);
                $inputs[] = [
                    'name' => $input->name, 'text' => $text, 'lines' => min(8, substr_count($text, "\n") + 1), 'isMany' => $input->many !== null,
                    'isNeeded' => $input->required && $input->default === null, 'default' => implode(', ', $input->default ?? []),
                ];
            }
        }

        return $inputs;
    }

    /**
     * What new rows have to keep, in words.
     *
     * @return list<string>
     */
    public function checks(): array
    {
        try {
            $plan = $this->definition->plan();

            return $plan === null ? [] : array_map(static fn (TableCheck $one): string => ($one->table === $plan->table->name ? '' : "$one->table: ").$one->words(), Checks::all($this->definition->endpoint['keep']['checks'] ?? [], $plan));
        } catch (InvalidCheck $invalid) {
            return [$invalid->getMessage()];
        }
    }

    /**
     * Inputs that have to be filled before it can be kept, in sentences.
     *
     * @return list<Fault>
     */
    public function missing(): array
    {
        try {
            $faults = $this->definition->keptWith()->faults();
        } catch (InvalidInput $invalid) {
            $faults = ['' => $invalid];
        }

        return array_values(array_map(static fn (InvalidInput $fault): Fault => new Fault('endpoints[0].keep', $fault->getMessage().' Say here what the table is read with; test values are for trying only.'), $faults));
    }
}
