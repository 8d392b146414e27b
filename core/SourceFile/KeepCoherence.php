<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

use DeepSpring\Ask\InvalidInput;
use DeepSpring\Ask\RowInputs;
use DeepSpring\Check\Checks;
use DeepSpring\Check\InvalidCheck;
use DeepSpring\Flatten\Plan;
use DeepSpring\History\HistorySettings;
use DeepSpring\History\InvalidHistory;
use DeepSpring\Increment\Increments;
use DeepSpring\Increment\InvalidIncrement;
use DeepSpring\Schedule\InvalidSchedule;
use DeepSpring\Schedule\RefreshTimes;

/**
 * What must fit together in how an endpoint is kept: what its tables are read with and when, what their rows have to
 * keep, what stays of them.
 */
final readonly class KeepCoherence
{
    /**
     * @param  array<string, mixed>  $source  of the document
     * @param  \Closure(string, string): void  $fault  told the place and what is wrong there
     * @param  \Closure(): bool  $isSound  whether nothing was wrong so far, so that all columns can be looked at
     */
    public function __construct(private array $source, private PathFaults $paths, private \Closure $fault, private \Closure $isSound)
    {
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @param  string  $at  its place
     */
    public function endpoint(array $endpoint, string $at): void
    {
        $this->keptWith($endpoint, "$at.inputs");
        $this->refresh($endpoint, "$at.refresh");
        $this->checks($endpoint, "$at.checks");
        $this->history($endpoint, "$at.history");
    }

    /**
     * Values that a table is read with. Whether one is missing is asked when it is read: until then the
     * endpoint may be good for trying.
     *
     * @param  array<string, mixed>  $endpoint
     */
    private function keptWith(array $endpoint, string $at): void
    {
        // Which inputs follow from a choice is known only with the metadata of the service.
        if (($endpoint['keep']['inputs'] ?? []) === [] || isset($endpoint['entity_set']) || isset($endpoint['operation'])) {
            return;
        }
        try {
            $definition = new EndpointDefinition($endpoint);
            $this->lookup($endpoint, $at);
            foreach ($definition->keptWith()->faults() as $name => $fault) {
                if (isset($endpoint['keep']['inputs'][$name])) {
                    ($this->fault)("$at.$name", $fault->getMessage());
                }
            }
        } catch (InvalidInput $invalid) {
            ($this->fault)($at, $invalid->getMessage());
        }
    }

    /**
     * @param  array<string, mixed>  $endpoint
     *
     * @throws InvalidInput
     */
    private function lookup(array $endpoint, string $at): void
    {
        $rows = RowInputs::of($endpoint['keep']['inputs']);
        if ($rows === null) {
            return;
        }
        $names = array_column($endpoint['ask']['inputs'] ?? [], 'name');
        foreach (array_diff(array_map(strval(...), array_keys($rows->bound)), $names) as $name) {
            ($this->fault)("$at.$name", "This endpoint has no input \"$name\".");
        }
        $own = isset($endpoint['flatten']) ? array_column(Plan::tablesIn($endpoint['flatten']), 'table') : [];
        if (in_array($rows->table, $own, true)) {
            ($this->fault)($at, "\"$rows->table\" is filled by this endpoint itself, so there are no rows to ask for.");
        }
        if (($endpoint['keep']['refresh']['mode'] ?? 'whole') !== 'whole') {
            ($this->fault)(str_replace('.inputs', '.refresh.mode', $at), 'A lookup asks only for rows that are new or changed, or whose answers have aged; how old they may be is said under keep.lookup.answers.');
        }
    }

    /**
     * @param  array<string, mixed>  $endpoint
     */
    private function refresh(array $endpoint, string $at): void
    {
        $refresh = $endpoint['keep']['refresh'] ?? [];
        try {
            RefreshTimes::of($refresh);
            if (($refresh['mode'] ?? 'whole') === 'incremental' && ($this->isSound)()) {
                // Which columns there are follows from a choice once the metadata is known.
                isset($endpoint['flatten']) ? Increments::of($refresh, Plan::of($endpoint['flatten'])->table) : null;
            }
        } catch (InvalidSchedule|InvalidIncrement $invalid) {
            ($this->fault)("$at.{$invalid->where}", $invalid->getMessage());
        }
        $marker = isset($refresh['since']['marker']) ? $this->paths->of($refresh['since']['marker']) : null;
        if ($marker !== null) {
            ($this->fault)("$at.since.marker", $marker);
        }
        foreach ($refresh['in'] ?? [] as $number => $environment) {
            if (! isset($this->source['environments'][$environment])) {
                ($this->fault)("$at.in[$number]", "The source has no environment \"$environment\".");
            }
        }
        $own = isset($endpoint['flatten']) ? array_column(Plan::tablesIn($endpoint['flatten']), 'table') : [];
        foreach ($refresh['after'] ?? [] as $number => $table) {
            if (in_array($table, $own, true)) {
                ($this->fault)("$at.after[$number]", "\"$table\" is filled by this endpoint itself.");
            }
        }
    }

    /**
     * @param  array<string, mixed>  $endpoint
     */
    private function history(array $endpoint, string $at): void
    {
        if (! isset($endpoint['keep']['history']) || ! ($this->isSound)()) {
            return;
        }
        try {
            HistorySettings::of($endpoint['keep']['history'], isset($endpoint['flatten']) ? Plan::of($endpoint['flatten'], new \DateTimeImmutable(Coherence::COUNTED_AS_OF)) : null);
        } catch (InvalidHistory $invalid) {
            ($this->fault)($at.$invalid->where, $invalid->getMessage());
        }
    }

    /**
     * @param  array<string, mixed>  $endpoint
     */
    private function checks(array $endpoint, string $at): void
    {
        $checks = $endpoint['keep']['checks'] ?? [];
        // Which columns there are follows from a choice once the metadata is known.
        if ($checks === [] || ! isset($endpoint['flatten']) || ! ($this->isSound)()) {
            return;
        }
        try {
            Checks::all($checks, Plan::of($endpoint['flatten'], new \DateTimeImmutable(Coherence::COUNTED_AS_OF)), new \DateTimeImmutable(Coherence::COUNTED_AS_OF));
        } catch (InvalidCheck $invalid) {
            ($this->fault)($at.$invalid->where, $invalid->getMessage());
        }
    }
}
