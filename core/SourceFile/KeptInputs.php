<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

use DeepSpring\Ask\AskDefinition;
use DeepSpring\Ask\Input;
use DeepSpring\Ask\InputSets;
use DeepSpring\Ask\RowInputs;

/**
 * `keep.inputs`, as they are taken over, typed, and carried along when inputs change.
 */
final class KeptInputs
{
    /**
     * What a table would be read with if it were read as it is tried.
     *
     * @param  array<string, mixed>  $endpoint  of a source file
     * @return array<string, mixed> `keep.inputs`, without values that could not be sent; empty where nothing was given, or something is said there already
     */
    public static function fromTestValues(array $endpoint): array
    {
        if (isset($endpoint['keep']['inputs']) || (new EndpointDefinition($endpoint))->does()->writes()) {
            return [];
        }
        $inputs = [];
        foreach ($endpoint['ask']['inputs'] ?? [] as $input) {
            $value = isset($input['fixed']) ? null : $input['try'] ?? null;
            if ($value !== null && $value !== [] && $value !== '') {
                // Several values at once are one reading.
                $inputs[$input['name']] = is_array($value) && isset($input['many']) ? (count($value) === 1 ? reset($value) : [array_values($value)]) : $value;
            }
        }

        $faults = InputSets::of(AskDefinition::of($endpoint['ask'] ?? []), $inputs)->faults();

        return array_diff_key($inputs, $faults);
    }

    /**
     * After inputs were renamed or removed: what was said of them goes along.
     *
     * @param  array<string, mixed>  $before  an endpoint
     * @param  array<string, mixed>  $after  the same endpoint
     * @return array<string, mixed>
     */
    public static function following(array $before, array $after): array
    {
        if (($after['keep']['inputs'] ?? []) === []) {
            return $after;
        }
        $were = array_column($before['ask']['inputs'] ?? [], 'name');
        $are = array_column($after['ask']['inputs'] ?? [], 'name');
        $kept = [];
        foreach ($after['keep']['inputs'] as $name => $value) {
            $place = array_search($name, $were, true);
            $renamed = $place === false ? null : $are[$place] ?? null;
            if (in_array($name, $are, true)) {
                $kept[$name] = $value;
            } elseif ($renamed !== null && ! in_array($renamed, $were, true)) {
                $kept[$renamed] = $value;
            }
        }

        return self::put($after, $kept);
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @param  array<string, mixed>  $inputs
     * @return array<string, mixed> the endpoint with them under Keep
     */
    public static function put(array $endpoint, array $inputs): array
    {
        $keep = ($inputs === [] ? [] : ['inputs' => $inputs]) + array_diff_key($endpoint['keep'] ?? [], ['inputs' => 1]);

        if ($keep === []) {
            return array_diff_key($endpoint, ['keep' => 1]);
        }
        $endpoint['keep'] = $keep;

        return $endpoint;
    }

    /**
     * A line for each reading, several values of one reading with commas between; `from loans: consignment` for one
     * request for each row of a table.
     */
    public static function text(mixed $value): string
    {
        if (RowInputs::isOne($value)) {
            return 'from '.$value['from']['table'].': '.($value['from']['column'] ?? $value['from']['text'] ?? '');
        }
        $line = static fn (mixed $one): string => implode(', ', array_map(Input::text(...), is_array($one) ? array_values($one) : [$one]));

        return $value === null ? '' : implode("\n", array_map($line, is_array($value) ? array_values($value) : [$value]));
    }

    /**
     * @param  bool  $isMany  whether the input takes several values at once
     * @return mixed what stands in the file; null for an empty text
     */
    public static function read(string $text, bool $isMany): mixed
    {
        if (preg_match('/^\s*from\s+(\S+?):\s*(\S.*?)\s*$/D', $text, $from) === 1 && ! str_contains($text, "\n")) {
            return ['from' => ['table' => $from[1]] + (str_contains($from[2], '{') ? ['text' => $from[2]] : ['column' => $from[2]])];
        }
        $lines = array_values(array_filter(array_map(trim(...), preg_split('/\R/', $text) ?: []), static fn (string $line): bool => $line !== ''));
        $readings = array_map(static function (string $line) use ($isMany): string|array {
            $values = $isMany ? array_values(array_filter(array_map(trim(...), explode(',', $line)), static fn (string $one): bool => $one !== '')) : [$line];

            return count($values) === 1 ? $values[0] : $values;
        }, $lines);

        return match (true) {
            $readings === [] => null,
            count($readings) === 1 && is_string($readings[0]) => $readings[0],
            default => $readings,
        };
    }
}
