<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

/**
 * Endpoints over the same records belong together: `/loans` lists and creates them, `/loans/{id}` gets,
 * updates and deletes one, `/loans/{id}/close` is a call on one.
 */
final class RecordSets
{
    private const USUAL = [EndpointRole::List, EndpointRole::Get, EndpointRole::Create, EndpointRole::Update, EndpointRole::Delete];

    /**
     * @param  list<array<string, mixed>>  $endpoints  of a source file
     * @return array<string, array{endpoints: list<array<string, mixed>>, missing: list<string>}> by the path of the records; what is missing as roles, only where there is more than reading
     */
    public static function of(array $endpoints): array
    {
        $sets = [];
        foreach ($endpoints as $endpoint) {
            $sets[self::path((string) ($endpoint['ask']['path'] ?? ''))]['endpoints'][] = $endpoint;
        }
        foreach ($sets as $path => $set) {
            $roles = array_map(static fn (array $one): EndpointRole => isset($one['does']) ? EndpointRole::from($one['does']) : EndpointRole::guess($one['ask']['method'] ?? 'GET', $one['ask']['path'] ?? ''), $set['endpoints']);
            $missing = array_filter(self::USUAL, static fn (EndpointRole $one): bool => ! in_array($one, $roles, true));
            // Of a service that describes itself, what is missing is chosen there.
            $isSet = count($set['endpoints']) > 1 && array_filter($set['endpoints'], static fn (array $one): bool => isset($one['entity_set'])) === [];
            $sets[$path]['missing'] = $isSet ? array_values(array_map(static fn (EndpointRole $one): string => $one->value, $missing)) : [];
        }

        return $sets;
    }

    /**
     * The path of the records that an endpoint is about.
     */
    public static function path(string $path): string
    {
        $steps = array_values(array_filter(explode('/', $path), static fn (string $step): bool => $step !== ''));
        foreach ($steps as $number => $step) {
            // A key in parentheses, as OData writes it.
            if (preg_match('/^([^({]+)\([^)]*\{/', $step, $part) === 1) {
                return '/'.implode('/', [...array_slice($steps, 0, $number), $part[1]]);
            }
            if ($number > 0 && str_contains($step, '{')) {
                return '/'.implode('/', array_slice($steps, 0, $number));
            }
        }

        return '/'.implode('/', $steps);
    }

    /**
     * The path and the method that a missing role most likely has.
     *
     * @return array{string, string} method and path
     */
    public static function likely(string $path, EndpointRole $does, ?string $onePath): array
    {
        $one = $onePath ?? rtrim($path, '/').'/{id}';

        return match ($does) {
            EndpointRole::List => ['GET', $path],
            EndpointRole::Create => ['POST', $path],
            EndpointRole::Get => ['GET', $one],
            EndpointRole::Update => ['PATCH', $one],
            EndpointRole::Delete => ['DELETE', $one],
            EndpointRole::Call => ['POST', "$one/action"],
        };
    }
}
