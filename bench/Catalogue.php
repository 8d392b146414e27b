<?php

declare(strict_types=1);

namespace Bench;

/**
 * An OpenAPI 3 file of a wished size: operations over made-up things, with descriptions as long as are
 * needed for it. Up to 1,200 things, which hold each other, so that a list of them has some 200 columns.
 */
final class Catalogue
{
    private const THINGS = 1200;

    /**
     * @return array<string, mixed>
     */
    public static function document(int $bytes, int $operations): array
    {
        $length = static fn (int $words): int => strlen((string) json_encode(self::of($words, $operations), JSON_UNESCAPED_SLASHES));
        [$few, $many] = [$length(10), $length(110)];

        return self::of(10 + max(0, intdiv(100 * ($bytes - $few), $many - $few)), $operations);
    }

    /**
     * @return array<string, mixed>
     */
    private static function of(int $words, int $operations): array
    {
        $things = min(self::THINGS, intdiv($operations, 3));
        $text = static fn (int $seed): string => substr(str_repeat("Of the crate, the courier and the house that lends ($seed). ", intdiv($words, 50) + 1), 0, $words);
        $paths = [];
        $schemas = [];
        for ($n = 0; $n < $things; $n++) {
            $properties = ['id' => ['type' => 'integer', 'format' => 'int64', 'description' => $text($n)]];
            for ($p = 0; $p < 30; $p++) {
                $properties["field_{$p}"] = match ($p % 6) {
                    0 => ['type' => 'string', 'description' => $text($p)],
                    1 => ['type' => 'number', 'nullable' => true, 'description' => $text($p)],
                    2 => ['type' => 'string', 'format' => 'date-time', 'description' => $text($p)],
                    3 => ['$ref' => '#/components/schemas/Thing'.(($n + $p) % $things)],
                    4 => ['type' => 'array', 'items' => ['type' => 'string'], 'description' => $text($p)],
                    default => ['type' => 'object', 'properties' => ['code' => ['type' => 'string'], 'name' => ['type' => 'string', 'description' => $text($p)]]],
                };
            }
            $schemas["Thing$n"] = ['type' => 'object', 'required' => ['id', 'field_0'], 'properties' => $properties];
        }
        for ($n = 0; $n < $operations / 3; $n++) {
            $thing = $n % $things;
            $fault = ['description' => $text($n)];
            $page = ['type' => 'object', 'properties' => ['data' => ['type' => 'array', 'items' => ['$ref' => "#/components/schemas/Thing$thing"]], 'next' => ['type' => 'string', 'nullable' => true]]];
            $one = ['description' => 'One', 'content' => ['application/json' => ['schema' => ['$ref' => "#/components/schemas/Thing$thing"]]]];
            $tag = 'Group '.($n % 20);
            $paths["/things$n"] = [
                'get' => ['operationId' => "list$n", 'tags' => [$tag], 'summary' => "List things of kind $n", 'description' => $text($n), 'parameters' => [['name' => 'after', 'in' => 'query', 'schema' => ['type' => 'string']], ['name' => 'limit', 'in' => 'query', 'schema' => ['type' => 'integer', 'default' => 50]]], 'responses' => ['200' => ['description' => 'A page', 'content' => ['application/json' => ['schema' => $page]]], '400' => $fault, '404' => $fault]],
                'post' => ['operationId' => "create$n", 'tags' => [$tag], 'summary' => "Create a thing of kind $n", 'description' => $text($n), 'requestBody' => ['content' => ['application/json' => ['schema' => ['$ref' => "#/components/schemas/Thing$thing"]]]], 'responses' => ['201' => $one, '400' => $fault]],
            ];
            $paths["/things$n/{id}"] = ['get' => ['operationId' => "get$n", 'tags' => [$tag], 'summary' => "One thing of kind $n", 'description' => $text($n), 'parameters' => [['name' => 'id', 'in' => 'path', 'required' => true, 'schema' => ['type' => 'integer']]], 'responses' => ['200' => $one, '404' => $fault]]];
        }

        return ['openapi' => '3.0.3', 'info' => ['title' => 'Catalogue of the Circle', 'version' => '1'], 'servers' => [['url' => 'https://catalogue.saltmarsh.example/v1']], 'paths' => $paths, 'components' => ['schemas' => $schemas]];
    }
}
