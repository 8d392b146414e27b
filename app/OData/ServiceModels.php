<?php

declare(strict_types=1);

namespace App\OData;

use App\Models\Environment;
use App\Models\Service;
use App\Models\Source;
use App\Models\Tryout;
use App\Models\User;
use App\Runs\ReadingFailed;
use App\Runs\Tries;
use App\Sources\SourceStore;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\OData\Csdl\Collected;
use DeepSpring\OData\Csdl\Metadata;
use DeepSpring\OData\Csdl\UnreadableMetadata;
use DeepSpring\OData\Model\EntitySet;
use DeepSpring\OData\Model\KeyPart;
use DeepSpring\OData\Model\Model;
use DeepSpring\SourceFile\Chosen;
use DeepSpring\SourceFile\SourceFile;
use GuzzleHttp\Psr7\Uri;
use GuzzleHttp\Psr7\UriComparator;
use GuzzleHttp\Psr7\UriResolver;

/**
 * Reads what services say of themselves, and keeps it.
 */
final class ServiceModels
{
    private const MOST_DOCUMENTS = 20;

    private const ACCEPT = 'application/xml, application/json;q=0.8';

    /** @var array<int, Model|null> by source */
    private array $known = [];

    public function __construct(private readonly Tries $tries)
    {
    }

    /**
     * The model of a source: that of an environment, or else the newest one of any.
     */
    public function of(Source $source, ?Environment $environment = null): ?Model
    {
        if ($environment !== null) {
            return $this->service($source, $environment)?->model();
        }
        if (! array_key_exists($source->id, $this->known)) {
            $this->known[$source->id] = Service::query()->where('source_id', $source->id)->latest('read_at')->first()?->model();
        }

        return $this->known[$source->id];
    }

    /**
     * What is kept for an environment, or the newest of any.
     */
    public function service(Source $source, Environment $environment, bool $whole = true): ?Service
    {
        $columns = $whole ? ['*'] : ['id', 'source_id', 'environment_id', 'version', 'sets', 'types', 'bytes', 'hash', 'left_out', 'listing', 'read_at'];
        $all = Service::query()->where('source_id', $source->id);

        return (clone $all)->where('environment_id', $environment->id)->first($columns) ?? $all->latest('read_at')->first($columns);
    }

    /**
     * A source file as short as it can be written: without what follows from what is chosen.
     */
    public function text(Source $source, SourceFile $file): string
    {
        return Chosen::isOData($file->document) ? SourceFile::trusted(Chosen::short($file->document, $this->of($source)))->yaml() : $file->yaml();
    }

    /**
     * Asks the service for its metadata and all that this refers to. What follows from it in the source
     * file is brought up to date.
     */
    public function read(Source $source, Environment $environment, ?User $by): Tryout
    {
        $file = $source->inHand();
        $path = (string) ($file->document['source']['odata']['metadata'] ?? '/$metadata');
        $collected = new Collected;
        $bytes = 0;
        $hash = hash_init('xxh128');
        $take = static function (string $body) use (&$collected, &$bytes, $hash): void {
            try {
                $read = Metadata::read($body);
            } catch (UnreadableMetadata $unreadable) {
                throw ReadingFailed::because(new Diagnosis('metadata', $unreadable->getMessage(), 'Compare the address with the documentation: metadata is usually found at the service root followed by /$metadata.', 'answer'));
            }
            $bytes === 0 ? $collected = $read : $collected->add($read);
            $bytes += strlen($body);
            hash_update($hash, $body);
        };
        $try = $this->tries->document($source, $file, $environment, $by, $path, self::ACCEPT, $take);
        if (! $try->succeeded) {
            return $try;
        }
        $base = rtrim((string) $file->source()->base($environment->slug), '/');
        $left = $this->follow($source, $environment, $by, $collected, new Uri(preg_match('~^https?://~i', $path) === 1 ? $path : $base.'/'.ltrim($path, '/')), $take);
        try {
            $model = Metadata::model($collected);
        } catch (UnreadableMetadata $unreadable) {
            $try->forceFill(['succeeded' => false, 'diagnosis' => (new Diagnosis('metadata', $unreadable->getMessage(), 'The rest of what it said is kept with this try.', 'answer'))->toArray()])->save();

            return $try;
        }
        $this->keep($source, $environment, $model, $bytes, hash_final($hash), $left);
        $this->bringUpToDate($source, $model, $by);

        return $try;
    }

    /**
     * @return list<string> what was not followed, in sentences
     */
    private function follow(Source $source, Environment $environment, ?User $by, Collected $collected, Uri $here, \Closure $take): array
    {
        $left = [];
        $seen = [(string) $here => true];
        while (($needed = array_values(array_filter(array_map(static fn (string $one): string => (string) UriResolver::resolve($here, new Uri($one)), Metadata::needs($collected)), static fn (string $one): bool => ! isset($seen[$one])))) !== [] && count($seen) <= self::MOST_DOCUMENTS) {
            $address = $needed[0];
            $seen[$address] = true;
            if (UriComparator::isCrossOrigin($here, new Uri($address))) {
                $left[] = "$address is at another address, where this source does not go. Types that stand there are not known.";

                continue;
            }
            $try = $this->tries->document($source, $source->inHand(), $environment, $by, $address, self::ACCEPT, $take);
            if (! $try->succeeded) {
                $left[] = "$address could not be read: ".($try->diagnosis['what'] ?? '');
            }
        }

        return $left;
    }

    /**
     * @param  list<string>  $left
     */
    public function keep(Source $source, Environment $environment, Model $model, int $bytes, string $hash, array $left): void
    {
        $json = static fn (mixed $value): string => (string) gzdeflate(json_encode($value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE | JSON_THROW_ON_ERROR), 3);
        Service::query()->updateOrCreate(['source_id' => $source->id, 'environment_id' => $environment->id], [
            'version' => $model->written, 'sets' => count($model->facts['sets']), 'types' => count($model->facts['types']), 'bytes' => $bytes, 'hash' => $hash, 'left_out' => $left,
            'model' => $json($model->facts), 'listing' => $json(array_map(static fn (EntitySet $set): array => self::listed($model, $set), $model->sets())), 'read_at' => now(),
        ]);
        unset($this->known[$source->id]);
    }

    /**
     * @return array{name: string, label: string, about: string, type: string, namespace: string, container: string, single: bool, columns: int, ways: int, key: string, count: bool}
     */
    private static function listed(Model $model, EntitySet $set): array
    {
        $type = $model->typeOf($set);

        return ['name' => $set->name, 'label' => $set->label !== '' ? $set->label : ($type->label ?? ''), 'about' => $set->about !== '' ? $set->about : ($type->about ?? ''), 'type' => $set->shortType(), 'namespace' => $set->namespace(), 'container' => $set->container, 'single' => $set->single, 'columns' => count($type->properties ?? []), 'ways' => count($type->navigations ?? []), 'key' => implode(', ', array_map(static fn (KeyPart $part): string => $part->path, $type->key ?? [])), 'count' => $set->can('count') && ! $set->single];
    }

    /**
     * The source speaks OData, in this version; what was chosen before gets what now follows.
     */
    private function bringUpToDate(Source $source, Model $model, ?User $by): void
    {
        app(SourceStore::class)->edit($source, $by, static function (array $document) use ($model): ?array {
            $changed = $document;
            $changed['source']['kind'] = 'odata';
            $changed['source']['odata'] = ['version' => $model->version->value] + ($changed['source']['odata'] ?? []);
            // As if nothing was known of it before, so that all that is derived follows.
            $changed = Chosen::filled($changed, [], $model);

            return $changed === $document ? null : $changed;
        });
    }
}
