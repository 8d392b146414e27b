<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Models\Environment;
use App\Models\Service;
use App\Models\Source;
use App\OData\MetadataFetcher;
use App\OData\ServiceModels;
use App\OData\ServiceReader;
use App\Pipeline\ReadingFailed;
use DeepSpring\OData\Model\EntitySet;
use DeepSpring\OData\Model\KeyPart;
use DeepSpring\OData\Model\Model;
use DeepSpring\OData\Model\Navigation;
use DeepSpring\Value\NearestName;
use DeepSpring\Value\Phrase;

/**
 * What an OData service offers.
 */
final class ODataCommand extends SpringCommand
{
    protected $signature = 'spring:odata {source : Its short name} {set? : An entity set, to describe}
        {--read : Ask the service for its metadata first} {--count : How many rows the set has} {--json : As JSON}
        {--environment= : The first that the source has an address in}';

    protected $description = 'Lists what an OData service offers, or describes one of its sets';

    public function work(ServiceModels $services, MetadataFetcher $metadata, ServiceReader $reader): int
    {
        $source = $this->source((string) $this->argument('source'));
        $environment = $this->environmentOf($source);
        if ($this->option('read')) {
            $try = $metadata->read($source, $environment, $this->somebody());
            if (! $try->succeeded) {
                $this->say(trim(($try->diagnosis['what'] ?? 'It failed.').' '.($try->diagnosis['advice'] ?? '')));

                return self::REFUSED;
            }
        }
        $service = $services->service($source, $environment);
        if ($service === null) {
            $this->say("The metadata has not been read yet: ./spring odata {$source->slug} --read");

            return self::REFUSED;
        }
        $model = $service->model();
        foreach ($service->left_out as $one) {
            $this->say($one);
        }
        $name = $this->argument('set');

        return is_string($name) && $name !== '' ? $this->one($model, $name, $source, $environment, $reader) : $this->all($service);
    }

    private function all(Service $service): int
    {
        if ($this->option('json')) {
            $this->giveLine((string) json_encode($service->listing(), JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES));

            return self::DONE;
        }
        $this->say("OData {$service->version}, {$service->sets} sets, {$service->types} types.");
        foreach ($service->listing() as $one) {
            $this->giveLine(implode("\t", [$one['name'], $one['type'], $one['key'], Phrase::count((int) $one['columns'], 'column'), implode(': ', array_filter([$one['label'], $one['about']]))]));
        }

        return self::DONE;
    }

    private function one(Model $model, string $name, Source $source, Environment $environment, ServiceReader $reader): int
    {
        $set = $model->set($name);
        $type = $set === null ? null : $model->typeOf($set);
        if ($set === null || $type === null) {
            $nearest = NearestName::to($name, array_map(static fn (EntitySet $one): string => $one->name, $model->sets()));
            $this->say("There is no set \"$name\"".($nearest !== null ? "; \"$nearest\" was probably meant." : '.'));

            return self::WRONG_USE;
        }
        if ($this->option('count')) {
            try {
                $this->giveLine((string) $reader->count($source, $environment, $this->somebody(), $set->name)->count);
            } catch (ReadingFailed $failed) {
                $this->say(trim("{$failed->diagnosis->what} {$failed->diagnosis->advice}"));

                return self::REFUSED;
            }

            return self::DONE;
        }
        if ($this->option('json')) {
            $this->giveLine((string) json_encode(['name' => $set->name, 'type' => $set->type, 'key' => array_map(static fn (KeyPart $part): string => $part->path, $type->key), 'columns' => array_values($type->properties), 'leads_to' => array_values(array_map(static fn (Navigation $way): array => ['name' => $way->name, 'many' => $way->many, 'set' => $model->target($set, $way->name)?->name], $type->navigations))], JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES));

            return self::DONE;
        }
        $keys = array_map(static fn (KeyPart $part): string => $part->path, $type->key);
        foreach ($type->properties as $property) {
            $this->giveLine(implode("\t", [$property->name, $property->typed(), in_array($property->name, $keys, true) ? 'key' : ($property->nullable ? '' : 'never empty'), implode(': ', array_filter([$property->label, $property->about]))]));
        }
        foreach ($type->navigations as $way) {
            $this->giveLine(implode("\t", ["→ $way->name", $way->many ? 'several' : 'one', $model->target($set, $way->name)->name ?? $way->type, $way->label]));
        }

        return self::DONE;
    }
}
