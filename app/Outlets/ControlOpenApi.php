<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Consumer;

/**
 * Refreshes from outside as OpenAPI 3.1 describes them, for a consumer that may start some.
 */
final class ControlOpenApi
{
    /**
     * @param  array<string, mixed>  $paths
     * @return array<string, mixed>|\stdClass
     */
    public static function with(array $paths, Consumer $consumer): array|\stdClass
    {
        if ($consumer->refreshes === []) {
            return $paths === [] ? new \stdClass : $paths;
        }
        $split = array_map(static fn (string $one): array => explode('/', $one, 2), $consumer->refreshes);
        $servers = [['url' => url('/')]];
        $integer = ['type' => ['integer', 'null']];
        $text = ['type' => ['string', 'null']];
        $run = ['description' => 'The run.', 'content' => ['application/json' => ['schema' => ['type' => 'object', 'required' => ['run', 'state'], 'properties' => [
            'run' => ['type' => 'integer'], 'state' => ['type' => 'string', 'enum' => ['queued', 'running', 'done', 'failed', 'stopped']], 'address' => ['type' => 'string', 'format' => 'uri'], 'started' => $text, 'ended' => $text,
            'pages' => $integer, 'records' => $integer, 'rows' => $integer, 'rejects' => $integer, 'total' => $integer, 'waits_for' => $text, 'reason' => $text,
        ]]]]];
        $problem = static fn (string $when): array => ['description' => $when, 'content' => ['application/problem+json' => ['schema' => ['$ref' => '#/components/schemas/Problem']]]];

        return $paths + [
            '/control/tables/{table}/refresh' => ['servers' => $servers, 'post' => ['operationId' => 'start_refresh', 'summary' => 'Start a refresh', 'parameters' => [
                ['name' => 'table', 'in' => 'path', 'required' => true, 'schema' => ['type' => 'string', 'enum' => array_values(array_unique(array_column($split, 1)))]],
                ['name' => 'environment', 'in' => 'query', 'description' => 'Where the table is, if there are several of that name.', 'schema' => ['type' => 'string', 'enum' => array_values(array_unique(array_column($split, 0)))]],
                ['name' => 'Idempotency-Key', 'in' => 'header', 'description' => 'The same for the same wish: asked again with it, nothing is started a second time.', 'schema' => ['type' => 'string', 'maxLength' => 200]],
            ], 'responses' => ['202' => $run + ['headers' => ['Location' => ['schema' => ['type' => 'string', 'format' => 'uri']]]], '400' => $problem('What was asked cannot be understood.'), '401' => $problem('There is no key, or it opens nothing.'), '404' => $problem('There is no such table that this key may have refreshed.'), '409' => $problem('The table is not there now.'), '422' => $problem('The Idempotency-Key was used for something else.'), '429' => $problem('Too many requests.')]]],
            '/control/runs/{run}' => ['servers' => $servers, 'get' => ['operationId' => 'follow_refresh', 'summary' => 'Follow a refresh', 'parameters' => [['name' => 'run', 'in' => 'path', 'required' => true, 'schema' => ['type' => 'integer']]], 'responses' => ['200' => $run, '401' => $problem('There is no key, or it opens nothing.'), '404' => $problem('There is no such run that this key asked for.'), '429' => $problem('Too many requests.')]]],
        ];
    }
}
