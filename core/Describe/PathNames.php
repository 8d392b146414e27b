<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

/**
 * Inputs in a path that an API calls otherwise than before: what somebody set for them goes with them.
 */
final class PathNames
{
    /**
     * Names in the path that are others in the description, by their places.
     *
     * @param  array<string, mixed>  $mine
     * @param  array<string, mixed>  $theirs
     * @return array<string, string> mine → theirs
     */
    public static function changed(array $mine, array $theirs): array
    {
        $names = static function (array $endpoint): array {
            preg_match_all('/\{([^{}]*)\}/', (string) ($endpoint['ask']['path'] ?? ''), $found);

            return $found[1];
        };
        [$from, $to] = [$names($mine), $names($theirs)];
        $others = array_diff(array_column($mine['ask']['inputs'] ?? [], 'name'), $from);
        $renamed = [];
        foreach ($from as $place => $name) {
            if (isset($to[$place]) && $to[$place] !== $name && ! in_array($to[$place], [...$from, ...$others], true)) {
                $renamed[$name] = $to[$place];
            }
        }

        return $renamed;
    }

    /**
     * An endpoint whose path inputs have other names, wherever they are spoken of.
     *
     * @param  array<string, mixed>  $endpoint
     * @param  array<string, string>  $names
     * @return array<string, mixed>
     */
    public static function in(array $endpoint, array $names): array
    {
        if ($names === []) {
            return $endpoint;
        }
        $pairs = [];
        foreach ($names as $from => $to) {
            $pairs['{'.$from.'}'] = '{'.$to.'}';
        }
        $endpoint['ask']['path'] = strtr((string) ($endpoint['ask']['path'] ?? ''), $pairs);
        foreach ($endpoint['ask']['inputs'] ?? [] as $number => $input) {
            $endpoint['ask']['inputs'][$number]['name'] = $names[$input['name']] ?? $input['name'];
        }
        if (isset($endpoint['keep']['inputs'])) {
            $endpoint['keep']['inputs'] = array_combine(array_map(static fn (string|int $name): string => $names[$name] ?? (string) $name, array_keys($endpoint['keep']['inputs'])), $endpoint['keep']['inputs']);
        }
        $columns = static function (array $table) use (&$columns, $names): array {
            foreach ($table['columns'] ?? [] as $number => $column) {
                if (isset($column['input'])) {
                    $table['columns'][$number]['input'] = $names[$column['input']] ?? $column['input'];
                }
            }
            foreach ($table['branches'] ?? [] as $number => $branch) {
                $table['branches'][$number] = $columns($branch);
            }

            return $table;
        };
        if (isset($endpoint['flatten'])) {
            $endpoint['flatten'] = $columns($endpoint['flatten']);
        }

        return $endpoint;
    }
}
