<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Console\CallerFiles;
use App\Imports\Fetch;
use App\Imports\Importing;
use App\Imports\Incoming;
use App\Imports\Listing;
use App\Models\Environment;
use App\Models\Source;
use App\Secrets\Vault;
use App\Sources\SourceStore;
use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\Described;
use DeepSpring\Describe\ImportedEndpoint;
use DeepSpring\Describe\Importers;
use DeepSpring\Describe\ImportInput;
use DeepSpring\Describe\Slugs;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;

final class Import extends SpringCommand
{
    protected $signature = 'spring:import {file* : A source file, OpenAPI or Swagger file, zip, HAR file, or file with cURL commands; an address; - for standard input; further files go with the first} {--list : Say what it would make, and store nothing} {--json : The list as one JSON document} {--into= : Source that the endpoints are added to} {--slug= : Short name of a new source} {--name= : Name of a new source} {--base= : Base address of a new source} {--only=* : Slugs of the endpoints that are wanted} {--draft : Keep as the draft, do not publish} {--environment= : Environment that address and secrets are for} {--secret=* : name=value} {--secrets= : A file of name=value lines}';

    protected $description = 'Adds a source, or endpoints to one, from whatever describes them';

    public function work(SourceStore $store, Vault $vault, Fetch $fetch, Importing $importing): int
    {
        try {
            $all = $this->described($this->given($fetch));
        } catch (CannotDescribe $cannot) {
            foreach ($cannot->sentences as $sentence) {
                $this->say(((array) $this->argument('file'))[0].": $sentence");
            }

            return self::REFUSED;
        }
        if ($this->option('list')) {
            return $this->list($all);
        }
        foreach ($all as $one) {
            $result = $one->document === null ? $this->add($one, $store, $vault, $importing) : $this->replace($one, $store, $vault);
            if ($result !== self::DONE) {
                return $result;
            }
        }

        return self::DONE;
    }

    /**
     * A source file: a new source, or the next version of one.
     */
    private function replace(Described $described, SourceStore $store, Vault $vault): int
    {
        $definition = SourceFile::trusted($described->document ?? []);
        foreach ($definition->source()->environments() as $slug) {
            Environment::query()->firstOrCreate(['slug' => $slug], ['name' => ucfirst($slug), 'position' => Environment::query()->count()]);
        }
        $source = $store->draft($definition, $this->somebody());
        $version = $this->option('draft') ? null : $store->publish($source, $this->somebody());
        $this->takeSecrets($source, $this->environmentOf($source), $vault);
        $this->say("{$definition->source()->name} is ".($version === null ? 'kept as a draft' : "published as version $version").', with '.count($definition->endpoints()).' endpoints.');

        return self::DONE;
    }

    private function add(Described $described, SourceStore $store, Vault $vault, Importing $importing): int
    {
        $only = array_values(array_map(strval(...), (array) $this->option('only')));
        $strange = array_diff($only, array_map(static fn (ImportedEndpoint $one): string => $one->slug(), $described->endpoints));
        if ($strange !== []) {
            throw new WrongUse('There is no endpoint '.implode(', ', $strange).' in it. See --list.');
        }
        $this->mends($described);
        try {
            if ($this->option('into') !== null) {
                $source = $this->source((string) $this->option('into'));
                $merge = $importing->into($described->only(null), $source, $only === [] ? null : $only, $this->environmentOf($source), $this->somebody() ?? throw new WrongUse('There is nobody who may build; add a person first.'));
                $said = count($merge->added).' endpoints added to '.$source->name.', '.count($merge->changes).' brought up to date';
                foreach ($merge->kept as $one) {
                    $this->say("Kept as it was edited: {$one['slug']} › {$one['place']}");
                }
            } else {
                $environment = Environment::named((string) ($this->option('environment') ?? '')) ?? Environment::query()->orderBy('position')->first() ?? throw new WrongUse('There is no environment.');
                $base = (string) ($this->option('base') ?? $described->bases[0] ?? '');
                if ($base === '') {
                    throw new WrongUse('It names no server; give the address with --base.');
                }
                $name = (string) ($this->option('name') ?? ($described->title !== '' ? $described->title : parse_url($base, PHP_URL_HOST)));
                $slug = (string) ($this->option('slug') ?? Slugs::clean($name));
                if (Source::query()->where('slug', $slug)->exists()) {
                    throw new WrongUse("There is a source \"$slug\" already. Give another with --slug, or add to it with --into $slug.");
                }
                $source = $importing->asSource($described->only($only === [] ? null : $only), $slug, $name, $environment, $base, $this->somebody());
                $said = "$name is there, with ".count($source->current()->endpoints()).' endpoints';
            }
        } catch (InvalidSourceFile $invalid) {
            foreach ($invalid->faults as $fault) {
                $this->say((string) $fault);
            }

            return self::REFUSED;
        }
        $this->takeSecrets($source, $this->environmentOf($source), $vault);
        $version = $this->option('draft') ? null : $store->publish($source, $this->somebody());
        $this->say("$said, ".($version === null ? 'kept as a draft.' : "published as version $version."));
        $missing = array_diff($source->refresh()->current()->secretNames(), array_map(strval(...), array_keys($described->secrets)));
        if ($missing !== []) {
            $this->say('It needs secrets: '.implode(', ', $missing).'. Give them on its page, or with --secret.');
        }

        return self::DONE;
    }

    /**
     * @param  list<Described>  $all
     */
    private function list(array $all): int
    {
        if ($this->option('json')) {
            $lists = array_map(Listing::of(...), $all);
            $this->give((string) json_encode(count($lists) === 1 ? $lists[0] : $lists, JSON_PRETTY_PRINT | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRESERVE_ZERO_FRACTION | JSON_INVALID_UTF8_SUBSTITUTE));

            return self::DONE;
        }
        foreach ($all as $one) {
            $this->say(($one->title !== '' ? $one->title : $one->kind).', at '.implode(' or ', $one->bases ?: ['no address']));
            foreach ($one->endpoints as $found) {
                $this->say(sprintf('  %-28s %-7s %-40s %s', $found->slug(), $found->method(), $found->endpoint['ask']['path'], $found->endpoint['name']));
            }
            $this->mends($one);
        }

        return self::DONE;
    }

    private function mends(Described $described): void
    {
        foreach (array_slice($described->mends, 0, 50) as $one) {
            $this->say(['mended' => 'Corrected', 'left-out' => 'Left out', 'note' => 'Note'][$one->kind]." · $one->place: $one->what");
        }
        if (count($described->mends) > 50) {
            $this->say('and '.(count($described->mends) - 50).' more; see --list --json.');
        }
    }

    private function given(Fetch $fetch): ImportInput
    {
        $names = array_values(array_map(strval(...), (array) $this->argument('file')));
        if (count($names) === 1 && preg_match('~^https?://~i', $names[0]) === 1) {
            return $fetch->get($names[0]);
        }
        $files = [];
        foreach ($names as $name) {
            $text = $name === '-' ? stream_get_contents(STDIN) : CallerFiles::read($this->path($name));
            if ($text === false || $text === null) {
                throw new WrongUse("$name cannot be read.");
            }
            $files[$name === '-' ? 'standard input' : basename($name)] = $text;
        }

        return $files === [] ? throw new WrongUse('Name a file.') : Incoming::ofFiles($files);
    }

    /**
     * @return non-empty-list<Described>
     *
     * @throws CannotDescribe
     */
    private function described(ImportInput $given): array
    {
        if ($this->option('into') !== null) {
            $file = $this->source((string) $this->option('into'))->current()->source();
            $given = new ImportInput($given->text, $given->name, $given->address, $given->files, array_values(array_filter(array_map($file->base(...), $file->environments()))));
        }

        return Importers::every($given);
    }
}
