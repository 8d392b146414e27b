<?php

declare(strict_types=1);

namespace App\OData;

use App\Models\Environment;
use App\Models\Service;
use App\Models\Source;
use App\Sources\KnownModels;
use DeepSpring\OData\Model\EntitySet;
use DeepSpring\OData\Model\KeyPart;
use DeepSpring\OData\Model\Model;
use DeepSpring\SourceFile\Chosen;
use DeepSpring\SourceFile\SourceFile;

/**
 * What services said of themselves, as it is kept.
 */
final class ServiceModels implements KnownModels
{
    /** @var array<int, Model|null> by source */
    private array $known = [];

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
}
