<?php

declare(strict_types=1);

namespace DeepSpring\Describe\OpenApi;

use DeepSpring\Ask\EndpointRole;
use DeepSpring\Ask\Method;
use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\Described;
use DeepSpring\Describe\EndpointNames;
use DeepSpring\Describe\ImportedEndpoint;
use DeepSpring\Describe\Importer;
use DeepSpring\Describe\ImportInput;
use DeepSpring\Describe\ImportNotice;
use DeepSpring\Describe\Slugs;
use DeepSpring\Value\Kind\Kind;

/**
 * OpenAPI 3.0 and 3.1, and Swagger 2.0. No flaw of a file stops it: what is wrong is mended or left
 * out, and listed with its place.
 */
final class OpenApiImporter implements Importer
{
    private const METHODS = ['get', 'post', 'put', 'patch', 'delete', 'head', 'options', 'trace', 'query'];

    /** What a path may hold beside its operations. */
    private const BESIDE = ['parameters', 'servers', 'summary', 'description', '$ref', 'additionaloperations'];

    public static function kind(): Kind
    {
        return new Kind('openapi', 'OpenAPI file', 'OpenAPI 3 or Swagger 2, as JSON, YAML or a zip of several files.');
    }

    public function recognises(ImportInput $given): bool
    {
        $start = substr($given->text, 0, 200_000);

        return preg_match('/^[\s\x{FEFF}]*\{/u', mb_scrub($start, 'UTF-8')) === 1
            ? preg_match('/"(?:openapi|swagger)"\s*:\s*"?\d/', $start) === 1 || preg_match('/"(?:openapi|swagger)"\s*:\s*"?\d/', substr($given->text, -200_000)) === 1
            : preg_match('/^(?:\xEF\xBB\xBF)?["\']?(?:openapi|swagger)["\']?\s*:/m', $start) === 1;
    }

    /**
     * In one piece, since what is read of the document is shared by all operations, in this order.
     */
    public function read(ImportInput $given): array
    {
        $text = new Text;
        $document = $text->read($given->text, $given->name);
        if (! isset($document['openapi']) && ! isset($document['swagger'])) {
            throw CannotDescribe::because('The file has no member "openapi" or "swagger", so it is no description of an API.');
        }
        $mends = $text->mends;
        $paths = is_array($document['paths'] ?? null) ? $document['paths'] : [];
        // Each is let go once it was read; the few files in which something refers to a path are read again.
        $document['paths'] = [];
        $references = new References($document, $given->name, $given->files, static fn (): array => (new Text)->read($given->text, $given->name));
        $schemas = new Schemas($references);
        $parameters = new Parameters($references, $schemas);
        $columns = new ColumnsFromSchema($schemas);
        $bodies = new MadeBodies;
        $servers = new Servers;
        $bases = $servers->of($document, $given->address);
        $title = is_string($document['info']['title'] ?? null) ? trim($document['info']['title']) : '';

        $found = [];
        $requirements = isset($document['security']) ? [$document['security']] : [];
        $slugs = new Slugs;
        $ids = [];
        $isEmpty = $paths === [];
        foreach (array_keys($paths) as $key) {
            $rawItem = $paths[$key];
            $paths[$key] = null;
            $path = (string) $key;
            if (str_starts_with($path, 'x-')) {
                continue;
            }
            [$item, , $file] = $references->follow($rawItem, "paths.$path");
            foreach ($this->operations($item, "paths.$path", $mends) as $method => $described) {
                $operation = new OpenApiOperation($document, $schemas, $references, $parameters, $columns, $bodies);
                try {
                    $endpoint = $operation->endpoint($path, $method, $item, $described, $file);
                } catch (CannotDescribe $cannot) {
                    $mends[] = ImportNotice::leftOut("paths.$path.$method", $cannot->getMessage());

                    continue;
                }
                array_push($mends, ...$operation->mends);
                if (isset($described['security'])) {
                    $requirements[] = $described['security'];
                }
                $base = $servers->own($described, $item, $bases, $given->address, "paths.$path.$method");
                $isSecured = array_filter((array) ($described['security'] ?? $document['security'] ?? []), static fn (mixed $one): bool => is_array($one) && $one !== []) !== [];
                $found[] = $this->found($endpoint, $path, $method, $described, $slugs, $ids, $mends)->at($base, $isSecured);
            }
        }
        if ($found === []) {
            throw CannotDescribe::because(! $isEmpty ? 'None of the paths in this file has an operation.' : 'This file describes no paths.');
        }
        $security = new Security;
        $access = $security->access($this->schemes($document, $references), $requirements, $bases[0] ?? $given->address);
        array_push($mends, ...$servers->mends, ...$parameters->mends, ...$references->mends, ...$schemas->mends, ...$security->mends);
        $found = $this->apart($found);

        return [new Described('openapi', $title, $bases, $access, [], [], $this->named($found), $mends, null, $security->alternatives)];
    }

    /**
     * The operations of a path, whatever the case of their methods; what is none is listed.
     *
     * @param  array<array-key, mixed>  $item
     * @param  list<ImportNotice>  $mends
     * @return array<string, array<array-key, mixed>> by method, in the order of `METHODS`
     */
    private function operations(array $item, string $place, array &$mends): array
    {
        $found = array_fill_keys(self::METHODS, null);
        foreach ($item + (is_array($item['additionalOperations'] ?? null) ? $item['additionalOperations'] : []) as $name => $operation) {
            $method = strtolower((string) $name);
            $isKnown = array_key_exists($method, $found);
            if (! $isKnown && is_array($operation) && isset($item['additionalOperations'][$name]) && Method::isOne(strtoupper($method))) {
                $found[$method] = $operation;
            } elseif ($isKnown && ! is_array($found[$method]) && ($operation === null || is_array($operation))) {
                $found[$method] = $operation ?? [];
            } elseif (! $isKnown && ! in_array($method, self::BESIDE, true) && ! str_starts_with($method, 'x-') || $isKnown) {
                $mends[] = ImportNotice::leftOut("$place.$name", $isKnown ? 'It is no description of an operation.' : "\"$name\" is no method.");
            }
        }

        return array_filter($found, is_array(...));
    }

    /**
     * No two endpoints with the same name: those that have the same are told apart by method and path,
     * or by a number.
     *
     * @param  list<ImportedEndpoint>  $found
     * @return list<ImportedEndpoint>
     */
    private function named(array $found): array
    {
        $count = array_count_values(array_map(static fn (ImportedEndpoint $one): string => $one->endpoint['name'], $found));
        $taken = [];
        foreach ($found as $place => $one) {
            $name = $one->endpoint['name'];
            $wish = $count[$name] > 1 ? mb_strimwidth($name, 0, 90, '…', 'UTF-8').' ('.mb_strimwidth($one->id, 0, 80, '…', 'UTF-8').')' : $name;
            for ($number = 2, $free = $wish; isset($taken[$free]); $number++) {
                $free = "$wish $number";
            }
            $taken[$free] = true;
            $found[$place] = $free === $name ? $one : $one->with(['slug' => $one->slug(), 'name' => $free] + $one->endpoint);
        }

        return $found;
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @param  array<array-key, mixed>  $operation
     * @param  array<string, string>  $ids  operation ids that were seen, and where
     * @param  list<ImportNotice>  $mends
     */
    private function found(array $endpoint, string $path, string $method, array $operation, Slugs $slugs, array &$ids, array &$mends): ImportedEndpoint
    {
        $place = "paths.$path.$method";
        $id = is_string($operation['operationId'] ?? null) ? trim($operation['operationId']) : '';
        $wish = '';
        if ($id === '') {
            $mends[] = ImportNotice::mended("$place.operationId", 'It has no operationId; a name was made from the path.');
        } elseif (isset($ids[$id])) {
            $mends[] = ImportNotice::mended("$place.operationId", "\"$id\" is the id of {$ids[$id]} as well; a name was made from the path.");
        } else {
            $ids[$id] = strtoupper($method).' '.$path;
            $wish = $id;
            if (preg_match('/^[A-Za-z0-9._-]+$/D', $id) !== 1) {
                $mends[] = ImportNotice::mended("$place.operationId", "\"$id\" has characters that an id should not have.");
            }
        }
        $does = EndpointRole::from($endpoint['does']);
        $summary = is_string($operation['summary'] ?? null) ? trim((string) preg_replace('/\s+/', ' ', $operation['summary'])) : '';
        $summary = rtrim($summary, '. ');
        $name = mb_strimwidth($summary !== '' ? $summary : EndpointNames::of($does, $path), 0, 120, '…', 'UTF-8');
        $slug = $slugs->take($wish !== '' ? $wish : ($summary !== '' && strlen($summary) < 50 ? $summary : EndpointNames::of($does, $path)));
        $endpoint = ['slug' => $slug, 'name' => $name] + $endpoint;
        $tags = is_array($operation['tags'] ?? null) ? array_values(array_filter($operation['tags'], is_string(...))) : [];

        return new ImportedEndpoint($endpoint, strtoupper($method).' '.$path, $tags[0] ?? self::section($path), [], ($operation['deprecated'] ?? false) === true);
    }

    /**
     * @param  array<string, mixed>  $flatten
     * @return array<string, mixed>
     */
    private function renamed(array $flatten, string $table): array
    {
        $old = (string) $flatten['table'];
        $flatten['table'] = $table;
        foreach ($flatten['branches'] ?? [] as $number => $branch) {
            $flatten['branches'][$number]['table'] = $table.substr((string) $branch['table'], strlen($old));
        }

        return $flatten;
    }

    private static function section(string $path): string
    {
        $words = array_values(array_filter(explode('/', $path), static fn (string $part): bool => $part !== '' && ! str_contains($part, '{') && preg_match('/^v\d/', $part) !== 1));

        return $words[0] ?? '';
    }

    /**
     * Table names are unique in a source: two lists of the same things are told apart by a number.
     *
     * @param  list<ImportedEndpoint>  $found
     * @return list<ImportedEndpoint>
     */
    private function apart(array $found): array
    {
        $taken = [];
        foreach ($found as $number => $one) {
            $endpoint = $one->endpoint;
            if (! isset($endpoint['flatten'])) {
                continue;
            }
            $names = static fn (array $flatten): array => array_fill_keys(array_map(static fn (array $table): string => $table['table'], [$flatten, ...($flatten['branches'] ?? [])]), true);
            $table = (string) $endpoint['flatten']['table'];
            for ($n = 2; array_intersect_key($names($endpoint['flatten']), $taken) !== []; $n++) {
                $endpoint['flatten'] = $this->renamed($endpoint['flatten'], "{$table}_$n");
            }
            $taken += $names($endpoint['flatten']);
            $found[$number] = $one->with($endpoint);
        }

        return $found;
    }

    /**
     * @param  array<array-key, mixed>  $document
     * @return array<string, array<array-key, mixed>>
     */
    private function schemes(array $document, References $references): array
    {
        $schemes = [];
        $described = $document['components']['securitySchemes'] ?? $document['securityDefinitions'] ?? null;
        foreach (is_array($described) ? $described : [] as $name => $scheme) {
            $schemes[(string) $name] = $references->follow($scheme, "securitySchemes.$name")[0];
        }

        return $schemes;
    }
}
