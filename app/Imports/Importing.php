<?php

declare(strict_types=1);

namespace App\Imports;

use App\Models\Description;
use App\Models\Environment;
use App\Models\Secret;
use App\Models\Source;
use App\Models\User;
use App\Secrets\Vault;
use App\Sources\SourceStore;
use DeepSpring\Describe\Described;
use DeepSpring\Describe\ImportedEndpoint;
use DeepSpring\Describe\ImportMerge;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\PackedEndpoints;
use DeepSpring\SourceFile\SourceFile;

/**
 * Stores what was read from a description: as a new source, or in one that is there.
 */
final readonly class Importing
{
    public function __construct(private SourceStore $store, private Vault $vault)
    {
    }

    /**
     * @param  Described  $described  of which a source file can hold everything (`Described::only`)
     * @param  list<string>  $agreed  other servers to which the authentication of the source goes as well
     *
     * @throws InvalidSourceFile
     */
    public function asSource(Described $described, string $slug, string $name, Environment $environment, ?string $base, ?User $by, array $agreed = []): Source
    {
        $described = $described->in($environment->slug, $agreed);
        $document = $described->document($slug, $name, $environment->slug, $base);
        // The endpoints were looked at when they were chosen; only what stands around them is new.
        $file = SourceFile::trusted(['endpoints' => $document['endpoints'] ?? []])->changed($document);
        $source = $this->store->draft($file, $by);
        $this->keepSecrets($described, $source, $environment, $by);
        $this->remember($described, $source, $by);

        return $source;
    }

    /**
     * What would change, without changing it.
     *
     * @param  list<string>|null  $chosen
     */
    public function preview(Described $described, Source $source, ?array $chosen = null): ImportMerge
    {
        $merge = new ImportMerge;
        $merge->of($this->before($source), $source->current()->document['endpoints'] ?? [], $described->endpoints, $chosen);

        return $merge;
    }

    /**
     * Servers that a description names and at which the source stands in no environment; none where it stands
     * at one of them.
     *
     * @return list<string>
     */
    public static function newServers(Described $described, Source $source): array
    {
        $file = $source->current()->source();
        $there = array_map(static fn (?string $base): string => rtrim((string) $base, '/'), array_map($file->base(...), $file->environments()));
        $named = array_values(array_unique(array_map(static fn (string $base): string => rtrim($base, '/'), $described->bases)));

        return array_intersect($named, $there) === [] ? $named : [];
    }

    /**
     * Whether a description is one request that can be added as it is: nothing of it is to be chosen, asked
     * or told.
     */
    public function isPlain(Described $described, Source $source): bool
    {
        $kept = $described->only(null);

        return count($described->endpoints) === 1 && count($kept->endpoints) === 1 && $kept->mends === [] && $kept->otherServers() === []
            && $this->preview($kept, $source)->added !== [] && ImportMerge::there($source->current()->document['endpoints'] ?? [], $kept->endpoints) === [];
    }

    /**
     * Adds the chosen endpoints and brings those that are there up to date, keeping what people edited.
     *
     * @param  list<string>|null  $chosen  slugs of new endpoints; all of them, when null
     * @param  list<string>  $agreed  other servers to which the authentication of the source goes as well
     * @param  list<string>  $take  conflicts, as "slug › place", that go to the description
     *
     * @throws InvalidSourceFile
     */
    public function into(Described $described, Source $source, ?array $chosen, Environment $environment, User $by, array $agreed = [], array $take = []): ImportMerge
    {
        $described = $described->in($environment->slug, $agreed);
        $merge = new ImportMerge($take);
        $this->store->edit($source, $by, function (array $document) use ($described, $source, $chosen, $merge): array {
            $document['endpoints'] = $this->withHeaders($merge->of($this->before($source), $document['endpoints'] ?? [], $described->endpoints, $chosen), $merge->added, $described, $document['source']['headers'] ?? []);
            if (($document['source']['access'] ?? []) === [] && $described->access !== []) {
                $document['source']['access'] = $described->access;
            }

            return $document;
        });
        $this->keepSecrets($described, $source, $environment, $by);
        $this->remember($described, $source, $by);

        return $merge;
    }

    /**
     * Headers that all requests of the description have, and the source has not, go with the endpoints
     * that are added.
     *
     * @param  list<array<string, mixed>>  $endpoints
     * @param  list<string>  $added
     * @param  array<string, mixed>  $there  headers of the source
     * @return list<array<string, mixed>>
     */
    private function withHeaders(array $endpoints, array $added, Described $described, array $there): array
    {
        $lacking = array_diff_assoc($described->headers, array_filter(array_change_key_case($there), is_string(...)));
        foreach ($endpoints as $number => $endpoint) {
            if ($lacking !== [] && in_array($endpoint['slug'], $added, true)) {
                $endpoints[$number]['ask']['headers'] = ($endpoint['ask']['headers'] ?? []) + $lacking;
            }
        }

        return $endpoints;
    }

    /**
     * Secrets that stood in what was handed in, as long as there are none of that name.
     */
    private function keepSecrets(Described $described, Source $source, Environment $environment, ?User $by): void
    {
        $wanted = $source->refresh()->current()->secretNames();
        foreach ($described->secrets as $name => $value) {
            if (in_array((string) $name, $wanted, true) && ! Secret::query()->where(['source_id' => $source->id, 'environment_id' => $environment->id, 'name' => $name])->exists()) {
                $this->vault->put($source, $environment, (string) $name, $value, $by);
            }
        }
    }

    private function remember(Described $described, Source $source, ?User $by): void
    {
        if ($described->kind === 'openapi') {
            Description::query()->create(['source_id' => $source->id, 'kind' => $described->kind, 'title' => mb_substr($described->title, 0, 190), 'endpoints' => '', 'packed' => PackedEndpoints::pack(array_map(static fn (ImportedEndpoint $one): array => $one->endpoint, $described->endpoints)), 'user_id' => $by?->id]);
        }
    }

    /**
     * What earlier descriptions made, the latest of each endpoint.
     *
     * @return list<array<string, mixed>>
     */
    private function before(Source $source): array
    {
        $all = [];
        foreach (Description::query()->where('source_id', $source->id)->latest('id')->limit(5)->get() as $description) {
            array_push($all, ...$description->made());
        }

        return $all;
    }
}
