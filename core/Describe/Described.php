<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;

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
    ) {
    }

    /**
     * Only these endpoints, and of them those that a source file can hold: what it would refuse is left
     * out, and listed.
     *
     * @param  list<string>|null  $slugs  all of them, when null
     */
    public function only(?array $slugs): self
    {
        $chosen = array_values(array_filter($this->endpoints, static fn (ImportedEndpoint $one): bool => $slugs === null || in_array($one->slug(), $slugs, true)));
        $document = static fn (array $all): array => ['deepspring' => 1, 'source' => ['slug' => 'x', 'name' => 'x', 'environments' => ['x' => ['base' => 'http://x.example']]], 'endpoints' => array_map(static fn (ImportedEndpoint $one): array => $one->endpoint, $all)];
        $refused = static function (array $all) use ($document): ?InvalidSourceFile {
            try {
                SourceFile::of($document($all));

                return null;
            } catch (InvalidSourceFile $invalid) {
                return $invalid;
            }
        };
        $mends = $this->mends;
        if ($refused($chosen) !== null) {
            $kept = [];
            foreach ($chosen as $one) {
                $invalid = $refused([$one]);
                if ($invalid === null) {
                    $kept[] = $one;
                } else {
                    $mends[] = ImportNotice::leftOut($one->id, 'A source file cannot hold this: '.implode(' ', array_map(strval(...), $invalid->faults)));
                }
            }
            $chosen = $kept;
        }

        return new self($this->kind, $this->title, $this->bases, $this->access, $this->headers, $this->secrets, $chosen, $mends, $this->document);
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
