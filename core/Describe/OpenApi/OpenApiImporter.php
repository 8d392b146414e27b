<?php

declare(strict_types=1);

namespace DeepSpring\Describe\OpenApi;

use DeepSpring\Ask\EndpointRole;
use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\Described;
use DeepSpring\Describe\EndpointNames;
use DeepSpring\Describe\ImportedEndpoint;
use DeepSpring\Describe\Importer;
use DeepSpring\Describe\ImportInput;
use DeepSpring\Describe\ImportNotice;
use DeepSpring\Describe\Slugs;

/**
 * OpenAPI 3.0 and 3.1, and Swagger 2.0. No flaw of a file stops it: what is wrong is mended or left
 * out, and listed with its place.
 */
final class OpenApiImporter implements Importer
{
    private const METHODS = ['get', 'post', 'put', 'patch', 'delete', 'head'];

    private const MOST_OPERATIONS = 5000;

    private const MOST_MENDS = 500;

    public function name(): string
    {
        return 'an OpenAPI file';
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
    public function read(ImportInput $given): Described
    {
        $text = new Text;
        $document = $text->read($given->text, $given->name);
        if (! isset($document['openapi']) && ! isset($document['swagger'])) {
            throw CannotDescribe::because('The file has no member "openapi" or "swagger", so it is no description of an API.');
        }
        $mends = $text->mends;
        $references = new References($document, $given->name, $given->files);
        $schemas = new Schemas($references);
        $parameters = new Parameters($references, $schemas);
        $columns = new ColumnsFromSchema($schemas);
        $servers = new Servers;
        $bases = $servers->of($document, $given->address);
        array_push($mends, ...$servers->mends);
        $title = is_string($document['info']['title'] ?? null) ? trim($document['info']['title']) : '';

        $found = [];
        $requirements = isset($document['security']) ? [$document['security']] : [];
        $slugs = new Slugs;
        $ids = [];
        $count = 0;
        foreach (is_array($document['paths'] ?? null) ? $document['paths'] : [] as $path => $rawItem) {
            $path = (string) $path;
            if (str_starts_with($path, 'x-')) {
                continue;
            }
            [$item, , $file] = $references->follow($rawItem, "paths.$path");
            foreach (self::METHODS as $method) {
                if (! is_array($item[$method] ?? null)) {
                    continue;
                }
                if (++$count > self::MOST_OPERATIONS) {
                    $mends[] = ImportNotice::leftOut('paths', 'Only the first '.self::MOST_OPERATIONS.' operations were read.');

                    break 2;
                }
                $operation = new OpenApiOperation($document, $schemas, $references, $parameters, $columns);
                try {
                    $endpoint = $operation->endpoint($path, $method, $item, $item[$method], $file);
                } catch (CannotDescribe $cannot) {
                    $mends[] = ImportNotice::leftOut("paths.$path.$method", $cannot->getMessage());

                    continue;
                }
                array_push($mends, ...$operation->mends);
                if (isset($item[$method]['security'])) {
                    $requirements[] = $item[$method]['security'];
                }
                $found[] = $this->found($endpoint, $path, $method, $item[$method], $slugs, $ids, $mends);
            }
        }
        if ($found === []) {
            throw CannotDescribe::because(isset($document['paths']) && $document['paths'] !== [] ? 'None of the paths in this file has an operation.' : 'This file describes no paths.');
        }
        $security = new Security;
        $access = $security->access($this->schemes($document, $references), $requirements, $bases[0] ?? $given->address);
        array_push($mends, ...$parameters->mends, ...$references->mends, ...$schemas->mends, ...$security->mends);
        $found = $this->apart($found);

        return new Described('openapi', $title, $bases, $access, [], [], $found, array_slice($mends, 0, self::MOST_MENDS));
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
            $mends[] = ImportNotice::mended("$place.operationId", 'There is none; a name was made from the path.');
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
        $name = mb_strimwidth($summary !== '' ? $summary : EndpointNames::of($does, $path), 0, 120, '…', 'UTF-8');
        $slug = $slugs->take($wish !== '' ? $wish : ($summary !== '' && strlen($summary) < 50 ? $summary : EndpointNames::of($does, $path)));
        $endpoint = ['slug' => $slug, 'name' => rtrim($name, '.')] + $endpoint;
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
