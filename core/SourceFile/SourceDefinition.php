<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

use DeepSpring\Access\MissingVariable;
use DeepSpring\Access\Origin;
use DeepSpring\Access\Scheme;
use DeepSpring\Access\Schemes;
use DeepSpring\Access\Variables;
use DeepSpring\Ask\RequestBuilder;
use DeepSpring\Pace\Settings;

final readonly class SourceDefinition
{
    public string $slug;

    public string $name;

    /** How fast it may be asked. */
    public Settings $pace;

    /**
     * @param  array<string, mixed>  $source  valid by the schema
     * @param  list<array<string, mixed>>  $asks  of endpoints that have addresses of their own
     */
    public function __construct(private array $source, private array $asks = [])
    {
        $this->slug = $source['slug'];
        $this->name = $source['name'];
        $this->pace = Settings::of($source['pace'] ?? []);
    }

    /**
     * The base address in an environment, or null when the source has none there.
     */
    public function base(string $environment): ?string
    {
        return $this->source['environments'][$environment]['base'] ?? null;
    }

    /**
     * @return list<string>
     */
    public function environments(): array
    {
        return array_map(strval(...), array_keys($this->source['environments']));
    }

    /**
     * All origins that secrets of this source travel to in an environment: of the base address and of
     * every address that an access scheme names.
     *
     * @return list<string> sorted
     *
     * @throws MissingVariable
     */
    public function origins(string $environment): array
    {
        $addresses = [(string) $this->base($environment)];
        $find = static function (mixed $value, string $name) use (&$find, &$addresses): void {
            if (is_array($value)) {
                foreach ($value as $member => $one) {
                    $find($one, (string) $member);
                }
            } elseif (is_string($value) && str_ends_with($name, '_url')) {
                $addresses[] = $value;
            }
        };
        $find($this->filled($environment)->fill($this->source['access'] ?? []), '');
        $origins = array_values(array_unique(array_filter(array_map(Origin::of(...), $addresses))));
        sort($origins);

        return $origins;
    }

    /**
     * Origins of endpoints on other servers, to which secrets of this source travel as well.
     *
     * @return list<string> sorted
     */
    public function furtherOrigins(string $environment): array
    {
        $addresses = array_map(static fn (array $ask): string => ($ask['access'] ?? 'none') === 'source' ? $ask['base'][$environment] ?? '' : '', $this->asks);
        $origins = array_values(array_unique(array_diff(array_filter(array_map(Origin::of(...), $addresses)), [Origin::of((string) $this->base($environment))])));
        sort($origins);

        return $origins;
    }

    /**
     * @return array<string, string>
     */
    public function variables(string $environment): array
    {
        return array_map(strval(...), $this->source['environments'][$environment]['variables'] ?? []);
    }

    /**
     * @return array<int, Scheme> by their place in the source file
     *
     * @throws MissingVariable
     */
    public function access(string $environment): array
    {
        return Schemes::all($this->filled($environment)->fill($this->source['access'] ?? []), $this->base($environment) ?? '');
    }

    /**
     * Access as the source file has it, variables not filled in.
     *
     * @return list<array<string, mixed>>
     */
    public function accessEntries(): array
    {
        return $this->source['access'] ?? [];
    }

    /**
     * Names of all secrets that are asked for.
     *
     * @return list<string>
     */
    public function secretNames(): array
    {
        $find = static function (mixed $value) use (&$find): array {
            if (! is_array($value)) {
                return [];
            }

            return isset($value['secret']) && is_string($value['secret']) && count($value) === 1 ? [$value['secret']] : array_merge([], ...array_map($find, array_values($value)));
        };

        return array_values(array_unique($find($this->source['access'] ?? [])));
    }

    /**
     * @return array<string, string>
     *
     * @throws MissingVariable
     */
    public function headers(string $environment): array
    {
        return $this->filled($environment)->fill($this->source['headers'] ?? []);
    }

    /**
     * What a request to the source is made from in an environment, as a hash: by it a screen knows
     * whether a test proved the settings that stand there now.
     */
    public function fingerprint(string $environment): string
    {
        return hash('xxh128', serialize([$this->source['environments'][$environment] ?? null, $this->source['access'] ?? [], $this->source['headers'] ?? [], $this->source['query'] ?? []]));
    }

    public function testEndpoint(): ?string
    {
        return $this->source['test']['endpoint'] ?? null;
    }

    /**
     * Whether a list that is added may be asked for one page more than the first, to prove how it goes on.
     */
    public function allowsSecondPage(): bool
    {
        return $this->source['test']['second_page'] ?? true;
    }

    /**
     * @throws MissingVariable
     */
    public function requests(string $environment): RequestBuilder
    {
        return new RequestBuilder((string) $this->base($environment), $this->headers($environment) + ['accept' => 'application/json'], array_map(strval(...), $this->filled($environment)->fill($this->source['query'] ?? [])), array_values($this->access($environment)), $environment);
    }

    private function filled(string $environment): Variables
    {
        return new Variables($this->variables($environment), $environment);
    }
}
