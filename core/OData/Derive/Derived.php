<?php

declare(strict_types=1);

namespace DeepSpring\OData\Derive;

use DeepSpring\OData\Model\Model;
use DeepSpring\OData\ODataVersion;
use DeepSpring\OData\SetChoice;
use DeepSpring\Value\JsonSubtrees;

/**
 * Endpoints that are chosen from a service (`entity_set` or `operation`) have `ask`, `answer`, `onward`
 * and `flatten` derived from the choice and, as far as it is there, from the model. What stands in the
 * document and is not what would be derived is somebody's own, and stays.
 */
final readonly class Derived
{
    /** What is chosen, in the order of a source file. */
    public const CHOICE = ['entity_set', 'operation', 'select', 'filter', 'order', 'top', 'skip', 'search', 'expand', 'page', 'track', 'whole'];

    public const PARTS = ['ask', 'answer', 'onward', 'flatten'];

    public function __construct(private ODataVersion $version, private ?Model $model = null)
    {
    }

    /**
     * @param  array<string, mixed>  $source  `source` of a source file
     */
    public static function versionOf(array $source): ODataVersion
    {
        return ODataVersion::tryFrom((int) ($source['odata']['version'] ?? 4)) ?? ODataVersion::V4;
    }

    /**
     * @param  array<string, mixed>  $endpoint
     */
    public static function isChosen(array $endpoint): bool
    {
        return is_string($endpoint['entity_set'] ?? null) || is_string($endpoint['operation'] ?? null);
    }

    /**
     * What is chosen, by which two endpoints are the same.
     *
     * @param  array<string, mixed>  $endpoint
     */
    public static function choice(array $endpoint): string
    {
        return JsonSubtrees::canonical(array_intersect_key($endpoint, array_flip([...self::CHOICE, 'does', 'slug'])));
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @return array{ask?: array<string, mixed>, answer?: array<string, mixed>, onward?: array<string, mixed>, flatten?: array<string, mixed>}
     */
    public function parts(array $endpoint): array
    {
        if (isset($endpoint['operation'])) {
            return ($this->model === null ? null : (new Calling($this->version, $this->model))->of($endpoint)) ?? ['ask' => ['method' => 'GET', 'path' => "/{$endpoint['operation']}"]];
        }
        $set = $this->model?->set($endpoint['entity_set']);
        if (($endpoint['does'] ?? 'list') !== 'list') {
            return (new Writing($this->version, $this->model))->of($endpoint);
        }
        $type = $this->model === null || $set === null ? null : $this->model->typeOf($set);
        $chosen = $this->model === null || $type === null ? $endpoint : SetChoice::of($endpoint)->withKeys($this->model, $type)->document() + $endpoint;
        $parts = (new SetReading($this->version))->of($chosen);
        if ($set?->single === true) {
            $parts['answer'] = ['format' => 'json'] + ($this->version->isV4() ? [] : ['records' => '$.d']);
            $parts['onward'] = ['style' => 'none'];
            $parts['ask']['inputs'] = array_values(array_filter($parts['ask']['inputs'] ?? [], static fn (array $input): bool => ! in_array($input['name'], ['$count', '$inlinecount'], true)));
        }
        if ($this->model === null || $type === null) {
            return $parts;
        }
        $plan = (new Tables($this->model))->plan($type, SetChoice::of($endpoint), $endpoint['slug'] ?? $endpoint['entity_set']);

        return $parts + ($plan === null ? [] : ['flatten' => $plan]);
    }

    /**
     * An endpoint with what is missing derived; what was derived for the choice before follows the new one.
     *
     * @param  array<string, mixed>  $endpoint
     * @param  array<string, mixed>|null  $before
     * @return array<string, mixed>
     */
    public function filled(array $endpoint, ?array $before = null): array
    {
        $now = $this->parts($endpoint);
        $plain = new self($this->version);
        $was = [$plain->parts($endpoint), ...($before === null ? [] : [$this->parts($before), $plain->parts($before)])];
        $try = ($endpoint['try'] ?? []) + self::tryValues($endpoint['ask'] ?? []);
        foreach (self::PARTS as $part) {
            $isDerived = ! isset($endpoint[$part]) || array_filter($was, static fn (array $parts): bool => isset($parts[$part]) && self::says($parts[$part]) === self::says($endpoint[$part])) !== [];
            if ($isDerived && isset($now[$part])) {
                $endpoint[$part] = $now[$part];
            }
        }
        foreach ($endpoint['ask']['inputs'] ?? [] as $number => $input) {
            if (isset($try[$input['name']]) && ! isset($input['fixed'])) {
                $endpoint['ask']['inputs'][$number]['try'] = $try[$input['name']];
                unset($endpoint['try'][$input['name']]);
            }
        }
        if (($endpoint['try'] ?? null) === []) {
            unset($endpoint['try']);
        }
        if (! isset($endpoint['does']) && ($this->model !== null || ! isset($endpoint['operation']))) {
            $does = isset($endpoint['operation']) && ($now['ask']['method'] ?? 'GET') !== 'GET' ? 'call' : 'list';
            $endpoint = array_slice($endpoint, 0, 2, true) + ['does' => $does] + $endpoint;
        }

        return $endpoint;
    }

    /**
     * The short form: without what would be derived again.
     *
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed>
     */
    public function short(array $endpoint): array
    {
        $derived = $this->parts($endpoint);
        $try = self::tryValues($endpoint['ask'] ?? []);
        foreach (self::PARTS as $part) {
            if (isset($derived[$part], $endpoint[$part]) && self::says($derived[$part]) === self::says($endpoint[$part])) {
                unset($endpoint[$part]);
            }
        }
        if ($try !== [] && ! isset($endpoint['ask'])) {
            $endpoint['try'] = $try;
        }
        if (($endpoint['does'] ?? '') === 'list' && isset($endpoint['entity_set'])) {
            unset($endpoint['does']);
        }

        return $endpoint;
    }

    /**
     * What a part says, whatever values it is tried with.
     */
    private static function says(mixed $part): string
    {
        foreach (is_array($part) && is_array($part['inputs'] ?? null) ? $part['inputs'] : [] as $number => $input) {
            unset($part['inputs'][$number]['try']);
        }
        if (is_array($part) && ($part['inputs'] ?? null) === []) {
            unset($part['inputs']);
        }

        return JsonSubtrees::canonical($part);
    }

    /**
     * @param  array<string, mixed>  $ask
     * @return array<string, mixed>
     */
    private static function tryValues(array $ask): array
    {
        return array_filter(array_column($ask['inputs'] ?? [], 'try', 'name'), static fn (mixed $value): bool => $value !== null);
    }

    /**
     * Parts that are somebody's own.
     *
     * @param  array<string, mixed>  $endpoint
     * @return list<string>
     */
    public function own(array $endpoint): array
    {
        return array_values(array_intersect(self::PARTS, array_keys($this->short($endpoint))));
    }
}
