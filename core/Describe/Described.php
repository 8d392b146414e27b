<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

use DeepSpring\Access\Origin;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;
use DeepSpring\Value\Uncollected;

/**
 * What a description holds, before anything is made of it.
 */
final readonly class Described
{
    /**
     * @param  string  $kind  curl, openapi, har, source-file
     * @param  list<string>  $bases  base addresses it names, the likeliest first
     * @param  list<array<string, mixed>>  $access  entries of a source file
     * @param  array<string, string>  $headers  that every request needs
     * @param  array<string, string>  $secrets  values that stood in it, by the name they get
     * @param  list<ImportedEndpoint>  $endpoints  no two with the same slug
     * @param  list<ImportNotice>  $mends
     * @param  array<string, mixed>|null  $document  of a source file, when it is one
     */
    public function __construct(
        public string $kind,
        public string $title,
        public array $bases,
        public array $access,
        public array $headers,
        #[\SensitiveParameter] public array $secrets,
        public array $endpoints,
        public array $mends = [],
        public ?array $document = null,
        /** @var array<string, list<array<string, mixed>>> ways of authentication that it offers instead of each other, the one that is taken first; by the names of their schemes */
        public array $alternatives = [],
    ) {
    }

    /**
     * With another way of authentication.
     *
     * @param  string  $name  of `alternatives`
     */
    public function withAccess(string $name): self
    {
        return isset($this->alternatives[$name]) ? new self($this->kind, $this->title, $this->bases, $this->alternatives[$name], $this->headers, $this->secrets, $this->endpoints, $this->mends, $this->document, $this->alternatives) : $this;
    }

    /**
     * With the reason at each endpoint that a source file cannot hold, so that it is known before
     * anybody chooses. Columns are made here and not handed in, and there may be very many: they are
     * looked at with what is chosen (`only`).
     */
    public function checked(): self
    {
        return $this->document !== null ? $this : $this->with(self::judged($this->endpoints, ['flatten' => 1, 'keep' => 1]), $this->mends);
    }

    /**
     * @param  list<ImportedEndpoint>  $endpoints
     * @param  array<string, int>  $apart  members that are not looked at
     * @return list<ImportedEndpoint>
     */
    private static function judged(array $endpoints, array $apart): array
    {
        // Each is looked at once; what is refused is left away until the rest is right.
        do {
            $left = array_values(array_filter(array_keys($endpoints), static fn (int $number): bool => $endpoints[$number]->refusal === null));
            $refusals = self::refusals(array_map(static fn (int $number): array => array_diff_key($endpoints[$number]->in('x', [])->endpoint, $apart), $left));
            foreach ($refusals as $place => $why) {
                $endpoints[$left[$place]] = $endpoints[$left[$place]]->refused($why);
            }
        } while ($refusals !== []);

        return array_values($endpoints);
    }

    /**
     * With the addresses that endpoints have of their own, for one environment.
     *
     * @param  list<string>  $agreed  origins to which the authentication of the source goes as well
     */
    public function in(string $environment, array $agreed = []): self
    {
        return $this->changed(static fn (ImportedEndpoint $one): ImportedEndpoint => $one->in($environment, $agreed));
    }

    /**
     * @param  \Closure(ImportedEndpoint): ImportedEndpoint  $change
     */
    public function changed(\Closure $change): self
    {
        return $this->with(array_map($change, $this->endpoints), $this->mends);
    }

    /**
     * Other servers that endpoints go to.
     *
     * @return array<string, array{endpoints: int, secured: int}> by origin
     */
    public function otherServers(): array
    {
        $servers = [];
        $home = Origin::of($this->bases[0] ?? '');
        foreach ($this->endpoints as $one) {
            $origin = $one->base === null ? null : Origin::of($one->base);
            if ($origin !== null && $origin !== $home) {
                $servers[$origin] = ['endpoints' => ($servers[$origin]['endpoints'] ?? 0) + 1, 'secured' => ($servers[$origin]['secured'] ?? 0) + ($one->isSecured ? 1 : 0)];
            }
        }

        return $servers;
    }

    /**
     * Endpoints that were read and cannot be kept.
     *
     * @return list<ImportedEndpoint>
     */
    public function refused(): array
    {
        return array_values(array_filter($this->endpoints, static fn (ImportedEndpoint $one): bool => $one->refusal !== null));
    }

    /**
     * Only these endpoints, and of them those that a source file can hold; what it cannot hold is listed
     * as left out.
     *
     * @param  list<string>|null  $slugs  all of them, when null
     */
    public function only(?array $slugs): self
    {
        $wanted = $slugs === null ? null : array_fill_keys($slugs, true);
        $chosen = array_values(array_filter($this->endpoints, static fn (ImportedEndpoint $one): bool => $wanted === null || isset($wanted[$one->slug()])));
        $chosen = Uncollected::while(static fn (): array => self::judged($chosen, []));
        $mends = $this->mends;
        foreach ($chosen as $one) {
            if ($one->refusal !== null) {
                $mends[] = ImportNotice::leftOut($one->id, "A source file cannot hold this: $one->refusal");
            }
        }

        return $this->with(array_values(array_filter($chosen, static fn (ImportedEndpoint $one): bool => $one->refusal === null)), $mends);
    }

    /**
     * @param  list<array<string, mixed>>  $endpoints
     * @return array<int, string> why, by their places in the list
     */
    private static function refusals(array $endpoints): array
    {
        try {
            SourceFile::of(['deepspring' => 1, 'source' => ['slug' => 'x', 'name' => 'x', 'environments' => ['x' => ['base' => 'http://x.example']]], 'endpoints' => $endpoints]);

            return [];
        } catch (InvalidSourceFile $invalid) {
            $why = [];
            foreach ($invalid->faults as $fault) {
                if (preg_match('/^endpoints\[(\d+)\]\.?(.*)$/sD', $fault->path, $part) === 1 && isset($endpoints[(int) $part[1]])) {
                    $why[(int) $part[1]][] = trim("$part[2]: $fault->message", ': ');
                }
            }

            return $why === [] ? throw new \LogicException((string) $invalid->faults[0]) : array_map(static fn (array $all): string => implode(' ', $all), $why);
        }
    }

    /**
     * @param  list<ImportedEndpoint>  $endpoints
     * @param  list<ImportNotice>  $mends
     */
    private function with(array $endpoints, array $mends): self
    {
        return new self($this->kind, $this->title, $this->bases, $this->access, $this->headers, $this->secrets, $endpoints, $mends, $this->document, $this->alternatives);
    }

    /**
     * The source file that it makes.
     *
     * @return array<string, mixed> a document; whether it is valid is for `SourceFile::of` to say
     */
    public function document(string $slug, string $name, string $environment, ?string $base): array
    {
        if ($this->document !== null) {
            return $this->document;
        }
        $endpoints = array_map(static fn (ImportedEndpoint $one): array => $one->endpoint, $this->endpoints);
        $source = ['slug' => $slug, 'name' => $name, 'kind' => 'rest', 'environments' => [$environment => ['base' => $base ?? $this->bases[0] ?? '']]]
            + array_filter(['headers' => $this->headers + ['accept' => 'application/json'], 'access' => $this->access]);
        foreach ($endpoints as $endpoint) {
            if (($endpoint['does'] ?? '') === 'list' && ! self::needsSomething($endpoint)) {
                $source['test'] = ['endpoint' => $endpoint['slug']];

                break;
            }
        }

        return ['deepspring' => 1, 'source' => $source, 'endpoints' => $endpoints];
    }

    /**
     * @param  array<string, mixed>  $endpoint
     */
    private static function needsSomething(array $endpoint): bool
    {
        foreach ($endpoint['ask']['inputs'] ?? [] as $input) {
            if (($input['required'] ?? false) && ! isset($input['try']) && ! isset($input['fixed']) && ! isset($input['default'])) {
                return true;
            }
        }

        return false;
    }
}
