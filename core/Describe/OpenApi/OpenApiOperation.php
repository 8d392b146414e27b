<?php

declare(strict_types=1);

namespace DeepSpring\Describe\OpenApi;

use DeepSpring\Ask\EndpointRole;
use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\ImportNotice;
use DeepSpring\Describe\InputNames;
use DeepSpring\Describe\Slugs;

/**
 * One operation → an endpoint of a source file, without slug and name.
 */
final class OpenApiOperation
{
    /** @var list<ImportNotice> */
    public array $mends = [];

    private string $place = '';

    /**
     * @param  array<array-key, mixed>  $document
     */
    public function __construct(private readonly array $document, private readonly Schemas $schemas, private readonly References $references, private readonly Parameters $parameters, private readonly ColumnsFromSchema $columns, private readonly MadeBodies $bodies)
    {
    }

    /**
     * @param  array<array-key, mixed>  $item  of the path
     * @param  array<array-key, mixed>  $operation
     * @return array<string, mixed>
     *
     * @throws CannotDescribe
     */
    public function endpoint(string $path, string $method, array $item, array $operation, string $file): array
    {
        $this->place = "paths.$path.$method";
        if (str_contains($path, '#')) {
            // What follows the sign is a fragment (RFC 3986 §3.5), by which descriptions tell requests apart that are the same.
            $path = (string) strstr($path, '#', true);
            $this->mends[] = ImportNotice::mended($this->place, 'What follows # in a path is never sent; it was left out.');
        }
        $isVersion2 = isset($this->document['swagger']);
        $all = $this->parameters->merged($this->list($item, 'parameters'), $this->list($operation, 'parameters'), $this->place);
        [$path, $inputs] = $this->inputs($path, $all, $file);
        [$content, $bodyFile] = $isVersion2 ? $this->bodyOfVersion2($operation, $all, $file) : $this->body($operation, $file);
        $builder = new BodyFromSchema($this->schemas, array_map(static fn (array $input): string => (string) $input['name'], $inputs), $this->bodies);
        [$body, $bodyInputs, $type] = $method === 'head' || $method === 'get' && $content === [] ? [null, [], null] : $builder->of($content, $bodyFile, $this->place);
        array_push($this->mends, ...$builder->mends);
        $answer = $this->answer($operation, $file, $isVersion2);
        $does = $this->does($method, $path, $answer);
        $onward = null;
        $records = null;
        $flatten = null;
        if ($answer !== null) {
            if ($does === EndpointRole::List) {
                [$records, $flatten] = $this->columns->of($answer, self::tableName($path), $this->place);
                [$onward, $replaced] = (new Paging($this->schemas))->of($inputs, $answer, $this->place);
                $inputs = array_values(array_filter($inputs, static fn (array $input): bool => $input['in'] !== 'query' || ! in_array($input['name'], $replaced, true)));
            }
        }
        $headers = $type === null ? [] : ['content-type' => $type];
        $inputs = [...$inputs, ...$bodyInputs];
        $ok = $this->succeedsWith($operation, $does);
        $about = is_string($operation['description'] ?? null) ? trim(strip_tags($operation['description'])) : '';

        return ($about === '' ? [] : ['about' => mb_strimwidth($about, 0, 2000, '…', 'UTF-8')]) + ['does' => $does->value, 'ask' => ['method' => strtoupper($method), 'path' => $path]
            + ($inputs === [] ? [] : ['inputs' => $inputs]) + ($headers === [] ? [] : ['headers' => $headers]) + ($body === null ? [] : ['body' => $body])]
            + (array_filter(['ok' => $ok, 'records' => $does === EndpointRole::List ? $records : null]) === [] ? [] : ['answer' => array_filter(['ok' => $ok, 'records' => $does === EndpointRole::List ? $records : null])])
            + ($onward === null ? [] : ['onward' => $onward])
            + ($does !== EndpointRole::List || $flatten === null ? [] : ['flatten' => $flatten]);
    }

    private static function tableName(string $path): string
    {
        $words = array_values(array_filter(explode('/', $path), static fn (string $part): bool => $part !== '' && ! str_contains($part, '{')));

        return str_replace('-', '_', Slugs::clean(end($words) ?: 'records'));
    }

    /**
     * In one piece, since path and inputs change together: a name that is changed in one is changed in both.
     *
     * @param  list<array{array<array-key, mixed>, string}>  $all
     * @return array{string, list<array<string, mixed>>} the path with the names its inputs have, and the inputs
     */
    private function inputs(string $path, array $all, string $file): array
    {
        $inputs = [];
        $names = [];
        preg_match_all('/\{([^{}]+)\}/', $path, $found);
        foreach ($all as [$parameter, $from]) {
            if ($parameter['in'] === 'path' && ! in_array($parameter['name'], $found[1], true) && ! in_array($parameter['name'].'*', $found[1], true)) {
                $this->mends[] = ImportNotice::leftOut("$this->place.parameters.{$parameter['name']}", 'It goes in the path, but the path has no place for it.');

                continue;
            }
            [$mine, $before, $instead] = $this->parameters->inputs($parameter, $from, $this->place) + [2 => null];
            if ($instead !== null) {
                $path = str_replace(['{'.$parameter['name'].'}', '{'.$parameter['name'].'*}'], $before.$instead, $path);
            }
            foreach ($mine as $input) {
                if (in_array($input['in'], ['header', 'cookie'], true) && preg_match('/^[A-Za-z0-9!#$%&\'*+.^_`|~-]+$/D', $input['name']) !== 1 || strlen($input['name']) > 2000 || $input['name'] === '') {
                    $this->mends[] = ImportNotice::leftOut("$this->place.parameters.{$parameter['name']}", 'The name cannot be used in its place.');

                    continue;
                }
                // Inputs of different places may have one name in a description, and may not here.
                if (in_array($input['name'], $names, true) || mb_strlen($input['name']) > 190) {
                    $own = (new InputNames($names))->take([$input['name']]);
                    if ($input['in'] === 'path' && $instead !== null) {
                        $path = str_replace('{'.$input['name'].'}', '{'.$own.'}', $path);
                    }
                    $input = ['name' => $own] + $input + ($input['in'] === 'path' ? [] : ['send_as' => $input['name']]);
                }
                $names[] = $input['name'];
                $inputs[] = $input;
                if ($input['in'] === 'path' && $instead === null) {
                    $path = str_replace(['{'.$parameter['name'].'}', '{'.$parameter['name'].'*}'], ($before ?? '').'{'.$input['name'].'}', $path);
                }
            }
        }
        $path = (string) preg_replace_callback('/\{([^{}]+)\}/', function (array $part) use (&$names, &$inputs): string {
            $name = Parameters::nameIn('path', $part[1]);
            if (! in_array($name, array_column(array_filter($inputs, static fn (array $input): bool => $input['in'] === 'path'), 'name'), true)) {
                $this->mends[] = ImportNotice::mended("$this->place.parameters", "The path holds {{$part[1]}}, which is described nowhere; it is an input of text.");
                $inputs[] = ['name' => $name, 'in' => 'path', 'required' => true];
                $names[] = $name;
            }

            return '{'.$name.'}';
        }, $path);
        $query = strpos($path, '?');
        if ($query !== false) {
            $this->mends[] = ImportNotice::mended($this->place, 'The path holds a query; it became fixed inputs.');
            foreach (array_filter(explode('&', substr($path, $query + 1))) as $pair) {
                [$name, $value] = array_map(urldecode(...), explode('=', $pair, 2) + [1 => '']);
                $isDescribed = array_filter($inputs, static fn (array $input): bool => $input['in'] === 'query' && ($input['send_as'] ?? $input['name']) === $name) !== [];
                if ($isDescribed || $name === '') {
                    continue;
                }
                $filled = preg_match('/^\{([^{}]+)\}$/D', $value, $part) === 1 ? $part[1] : null;
                if ($filled === null && str_contains($value, '{')) {
                    $this->mends[] = ImportNotice::leftOut($this->place, "$pair in the query of the path: an input is the whole of a value.");

                    continue;
                }
                $own = in_array($name, $names, true) && $filled !== $name || mb_strlen($name) > 190 ? (new InputNames($names))->take([$name]) : $name;
                $was = $filled === null ? null : (array_values(array_filter($inputs, static fn (array $input): bool => $input['in'] === 'path' && $input['name'] === $filled))[0] ?? null);
                $inputs[] = ['name' => $own, 'in' => 'query'] + ($own === $name ? [] : ['send_as' => $name]) + ($filled === null ? ['fixed' => $value] : array_diff_key($was ?? [], ['name' => 1, 'in' => 1]));
                $names[] = $own;
            }
            $path = substr($path, 0, $query);
            preg_match_all('/\{([^{}]+)\}/', $path, $found);
            $inputs = array_values(array_filter($inputs, static fn (array $input): bool => $input['in'] !== 'path' || in_array($input['name'], $found[1], true)));
        }
        $path = (string) preg_replace_callback('/[\s#]/', static fn (array $part): string => rawurlencode($part[0]), str_starts_with($path, '/') ? $path : "/$path");

        return [$path, $inputs];
    }

    /**
     * @param  array<array-key, mixed>  $operation
     * @return array{array<array-key, mixed>, string, bool} content by media type, its file, and whether it is required
     */
    private function body(array $operation, string $file): array
    {
        if (! isset($operation['requestBody'])) {
            return [[], $file, false];
        }
        [$body, , $from] = $this->references->follow($operation['requestBody'], "$this->place.requestBody", $file);

        return [is_array($body['content'] ?? null) ? $body['content'] : [], $from, ($body['required'] ?? false) === true];
    }

    /**
     * @param  array<array-key, mixed>  $operation
     * @param  list<array{array<array-key, mixed>, string}>  $all
     * @return array{array<array-key, mixed>, string, bool}
     */
    private function bodyOfVersion2(array $operation, array $all, string $file): array
    {
        $consumes = array_values(array_filter((array) ($operation['consumes'] ?? $this->document['consumes'] ?? []), is_string(...)));
        $fields = [];
        $required = [];
        $hasFile = false;
        foreach ($all as [$parameter, $from]) {
            if ($parameter['in'] === 'body') {
                return [[$consumes[0] ?? 'application/json' => ['schema' => $parameter['schema'] ?? [], 'example' => $parameter['x-example'] ?? null]], $from, ($parameter['required'] ?? false) === true];
            }
            if ($parameter['in'] === 'formData') {
                $fields[(string) $parameter['name']] = array_diff_key($parameter, ['in' => 1, 'name' => 1, 'required' => 1]);
                $required = ($parameter['required'] ?? false) === true ? [...$required, (string) $parameter['name']] : $required;
                $hasFile = $hasFile || ($parameter['type'] ?? '') === 'file';
            }
        }
        $type = $hasFile || in_array('multipart/form-data', $consumes, true) ? 'multipart/form-data' : 'application/x-www-form-urlencoded';

        return $fields === [] ? [[], $file, false] : [[$type => ['schema' => ['type' => 'object', 'properties' => $fields, 'required' => $required]]], $file, $required !== []];
    }

    /**
     * The schema of the first success.
     *
     * @param  array<array-key, mixed>  $operation
     */
    private function answer(array $operation, string $file, bool $isVersion2): ?Schema
    {
        $responses = is_array($operation['responses'] ?? null) ? $operation['responses'] : [];
        if ($responses === []) {
            $this->mends[] = ImportNotice::note("$this->place.responses", 'No answers are described; columns can be proposed after a try.');

            return null;
        }
        foreach (['200', '201', '202', '203', '2XX', '2xx', 'default'] as $status) {
            if (! isset($responses[$status])) {
                continue;
            }
            [$response, , $from] = $this->references->follow($responses[$status], "$this->place.responses.$status", $file);
            if ($isVersion2) {
                $schema = $response['schema'] ?? null;
            } else {
                $content = is_array($response['content'] ?? null) ? $response['content'] : [];
                $json = array_values(array_filter(array_map(strval(...), array_keys($content)), static fn (string $type): bool => str_contains(strtolower($type), 'json') || $type === '*/*'));
                $schema = $content[$json[0] ?? '']['schema'] ?? null;
            }
            if (is_array($schema)) {
                return $this->schemas->of($schema, "$this->place.responses.$status", $from);
            }
            if ($status !== 'default') {
                $this->mends[] = ImportNotice::note("$this->place.responses.$status", 'The answer has no schema; columns can be proposed after a try.');

                return null;
            }
        }

        return null;
    }

    private function does(string $method, string $path, ?Schema $answer): EndpointRole
    {
        $does = EndpointRole::guess($method, $path);
        if ($method === 'get' && $answer !== null) {
            $records = $this->columns->path($answer, $this->place);

            return $records !== null && ($does === EndpointRole::List || $answer->type === 'array') ? EndpointRole::List : ($does === EndpointRole::List && $answer->type === 'object' && $answer->properties !== [] ? EndpointRole::Get : $does);
        }

        return $does;
    }

    /**
     * Statuses that are described as a success and are none of the usual ones for what it does.
     *
     * @param  array<array-key, mixed>  $operation
     * @return list<int>|null
     */
    private function succeedsWith(array $operation, EndpointRole $does): ?array
    {
        $ok = [];
        foreach (array_keys(is_array($operation['responses'] ?? null) ? $operation['responses'] : []) as $status) {
            if (preg_match('/^2\d\d$/D', (string) $status) === 1) {
                $ok[] = (int) $status;
            }
        }
        $usual = $does->succeedsWith();

        return $ok === [] || array_diff($ok, $usual) === [] ? null : array_values(array_unique([...$usual, ...$ok]));
    }

    /**
     * @param  array<array-key, mixed>  $node
     * @return list<mixed>
     */
    private function list(array $node, string $name): array
    {
        return is_array($node[$name] ?? null) ? array_values($node[$name]) : [];
    }
}
