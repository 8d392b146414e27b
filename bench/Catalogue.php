<?php

declare(strict_types=1);

namespace Bench;

/**
 * An OpenAPI 3 file of a wished size: 900 operations over made-up things, with descriptions as long
 * as are needed for it.
 */
final class Catalogue
{
    private const OPERATIONS = 900;

    /**
     * @return array<string, mixed>
     */
    public static function document(int $bytes): array
    {
        $document = self::of(60);
        $length = strlen((string) json_encode($document));
        // Every property of every schema has a description; there are about as many as this.
        $each = 60 + max(0, intdiv($bytes - $length, self::OPERATIONS * 14));

        return self::of($each);
    }

    /**
     * @return array<string, mixed>
     */
    private static function of(int $words): array
    {
        $text = static fn (int $seed): string => substr(str_repeat("Of the crate, the courier and the house that lends ($seed). ", intdiv($words, 50) + 1), 0, $words);
        $paths = [];
        $schemas = [];
        for ($n = 0; $n < self::OPERATIONS / 3; $n++) {
            $properties = ['id' => ['type' => 'integer', 'format' => 'int64', 'description' => $text($n)]];
            for ($p = 0; $p < 30; $p++) {
                $properties["field_{$p}"] = match ($p % 6) {
                    0 => ['type' => 'string', 'description' => $text($p)],
                    1 => ['type' => 'number', 'nullable' => true, 'description' => $text($p)],
                    2 => ['type' => 'string', 'format' => 'date-time', 'description' => $text($p)],
                    3 => ['$ref' => '#/components/schemas/Thing'.(($n + $p) % 300)],
                    4 => ['type' => 'array', 'items' => ['type' => 'string'], 'description' => $text($p)],
                    default => ['type' => 'object', 'properties' => ['code' => ['type' => 'string'], 'name' => ['type' => 'string', 'description' => $text($p)]]],
                };
            }
            $schemas["Thing$n"] = ['type' => 'object', 'required' => ['id', 'field_0'], 'properties' => $properties];
            $page = ['type' => 'object', 'properties' => ['data' => ['type' => 'array', 'items' => ['$ref' => "#/components/schemas/Thing$n"]], 'next' => ['type' => 'string', 'nullable' => true]]];
            $one = ['description' => 'One', 'content' => ['application/json' => ['schema' => ['$ref' => "#/components/schemas/Thing$n"]]]];
            $tag = 'Group '.($n % 20);
            $paths["/things$n"] = [
                'get' => ['operationId' => "list$n", 'tags' => [$tag], 'summary' => "List things of kind $n", 'description' => $text($n), 'parameters' => [['name' => 'after', 'in' => 'query', 'schema' => ['type' => 'string']], ['name' => 'limit', 'in' => 'query', 'schema' => ['type' => 'integer', 'default' => 50]]], 'responses' => ['200' => ['description' => 'A page', 'content' => ['application/json' => ['schema' => $page]]]]],
                'post' => ['operationId' => "create$n", 'tags' => [$tag], 'summary' => "Create a thing of kind $n", 'description' => $text($n), 'requestBody' => ['content' => ['application/json' => ['schema' => ['$ref' => "#/components/schemas/Thing$n"]]]], 'responses' => ['201' => $one]],
            ];
            $paths["/things$n/{id}"] = ['get' => ['operationId' => "get$n", 'tags' => [$tag], 'summary' => "One thing of kind $n", 'description' => $text($n), 'parameters' => [['name' => 'id', 'in' => 'path', 'required' => true, 'schema' => ['type' => 'integer']]], 'responses' => ['200' => $one]]];
        }

        return ['openapi' => '3.0.3', 'info' => ['title' => 'Catalogue of the Circle', 'version' => '1'], 'servers' => [['url' => 'https://catalogue.saltmarsh.example/v1']], 'paths' => $paths, 'components' => ['schemas' => $schemas]];
    }
}
