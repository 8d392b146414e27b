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
use DeepSpring\Describe\Merge;
use DeepSpring\SourceFile\InvalidSourceFile;
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
     *
     * @throws InvalidSourceFile
     */
    public function asSource(Described $described, string $slug, string $name, Environment $environment, ?string $base, ?User $by): Source
    {
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
    public function preview(Described $described, Source $source, ?array $chosen = null): Merge
    {
        $merge = new Merge;
        $merge->of($this->before($source), $source->current()->document['endpoints'] ?? [], $described->endpoints, $chosen);

        return $merge;
    }

    /**
     * Adds the chosen endpoints and brings those that are there up to date, keeping what people edited.
     *
     * @param  list<string>|null  $chosen  slugs of new endpoints; all of them, when null
     *
     * @throws InvalidSourceFile
     */
    public function into(Described $described, Source $source, ?array $chosen, Environment $environment, User $by): Merge
    {
        $merge = new Merge;
        $this->store->edit($source, $by, function (array $document) use ($described, $source, $chosen, $merge): array {
            $document['endpoints'] = $merge->of($this->before($source), $document['endpoints'] ?? [], $described->endpoints, $chosen);
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
            Description::query()->create(['source_id' => $source->id, 'kind' => $described->kind, 'title' => mb_substr($described->title, 0, 190), 'endpoints' => json_encode(array_map(static fn (ImportedEndpoint $one): array => $one->endpoint, $described->endpoints), JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION | JSON_THROW_ON_ERROR), 'user_id' => $by?->id]);
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
