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
use App\Runs\OrphanedTables;
use App\Secrets\Vault;
use App\Sources\SourceStore;
use DeepSpring\Access\Origin;
use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\Described;
use DeepSpring\Describe\ImportedEndpoint;
use DeepSpring\Describe\Importers;
use DeepSpring\Describe\ImportInput;
use DeepSpring\Describe\NoticeGroup;
use DeepSpring\Describe\Slugs;
use DeepSpring\SourceFile\DocumentChange;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;
use DeepSpring\Value\Phrase;

final class Import extends SpringCommand
{
    protected $signature = 'spring:import {file* : A source file, OpenAPI or Swagger file, zip, HAR file, or file with cURL commands; an address; - for standard input; further files go with the first} {--list : Say what it would make, and store nothing} {--json : The list as one JSON document} {--into= : Source that the endpoints are added to} {--slug= : Short name of a new source} {--name= : Name of a new source} {--base= : Base address of a new source} {--also=* : Other servers in the file to which the authentication of the source is sent as well} {--access= : Which way of authentication is taken, by its name in the file} {--only=* : Slugs of the endpoints that are wanted} {--take=* : Conflicts with edits, as "SLUG › PLACE", that go to the description} {--draft : Keep as the draft, do not publish} {--environment= : Environment that address and secrets are for} {--secret=* : name=value} {--secrets= : A file of name=value lines}';

    protected $description = 'Adds a source, or endpoints to one, from whatever describes them';

    public function work(SourceStore $store, Vault $vault, Fetch $fetch, Importing $importing, OrphanedTables $orphaned): int
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
        $all = array_map($this->withAccess(...), $all);
        foreach ($all as $one) {
            $result = $one->document === null ? $this->add($one, $store, $vault, $importing) : $this->replace($one, $store, $vault, $orphaned);
            if ($result !== self::DONE) {
                return $result;
            }
        }

        return self::DONE;
    }

    /**
     * A source file: a new source, or the next version of one.
     */
    private function replace(Described $described, SourceStore $store, Vault $vault, OrphanedTables $orphaned): int
    {
        $definition = SourceFile::trusted($described->document ?? []);
        foreach ($definition->source()->environments() as $slug) {
            Environment::query()->firstOrCreate(['slug' => $slug], ['name' => ucfirst($slug), 'position' => Environment::query()->count()]);
        }
        try {
            $source = $store->draft($definition, $this->somebody());
        } catch (InvalidSourceFile $invalid) {
            array_map(fn (Fault $fault) => $this->say((string) $fault), $invalid->faults);

            return self::REFUSED;
        }
        $version = $this->option('draft') ? null : $store->publish($source, $this->somebody());
        $this->takeSecrets($source, $this->environmentOf($source), $vault);
        $version === null ?: $this->tellOrphans($source, $orphaned);
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
        $kept = $described->only($only === [] ? null : $only);
        $wanted = count($only === [] ? $described->endpoints : array_unique($only));
        $refused = $wanted - count($kept->endpoints);
        $this->mends($kept);
        try {
            [$source, $said] = $this->option('into') !== null ? $this->into($described, $only, $importing) : $this->asNew($described, $kept, $importing);
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
        if ($refused > 0) {
            $this->say(Phrase::count($refused, 'endpoint')." of $wanted could not be kept; the reasons stand above.");
        }

        return $refused > 0 ? self::REFUSED : self::DONE;
    }

    /**
     * @param  list<string>  $only
     * @return array{Source, string} the source, and what became of it
     *
     * @throws InvalidSourceFile
     */
    private function into(Described $described, array $only, Importing $importing): array
    {
        $source = $this->source((string) $this->option('into'));
        $keepsAccess = ($source->current()->document['source']['access'] ?? []) !== [] && $described->access !== [];
        $merge = $importing->into($described->only(null), $source, $only === [] ? null : $only, $this->environmentOf($source), $this->somebody() ?? throw new WrongUse('There is nobody who may build; add a person first.'), $this->agreed(), $this->taken());
        if ($keepsAccess) {
            $this->say('The authentication of the source stays as it is; that of the description was not taken.');
        }
        if ($merge->removed !== []) {
            $this->say('Removed here before, and not added again: '.implode(', ', $merge->removed).'. Name them with --only to add them.');
        }
        $shown = static fn (mixed $value): string => mb_strimwidth(DocumentChange::shown($value), 0, 80, '…');
        foreach ($merge->renamed as $one) {
            $this->say("Renamed: {$one['slug']}, {$one['from']} in the path is called {$one['to']} now");
        }
        foreach ($merge->kept as $one) {
            $this->say("Kept as it was edited: {$one['slug']} › {$one['place']}: {$shown($one['kept'])}, ".($one['offered'] === null ? 'which the description no longer has' : "where the description says {$shown($one['offered'])}")." (--take '{$one['slug']} › {$one['place']}' takes its side)");
        }
        foreach ($merge->taken as $one) {
            $this->say("Taken from the description: {$one['slug']} › {$one['place']}: ".($one['offered'] === null ? 'it is gone' : $shown($one['offered'])));
        }
        foreach ($merge->gone as $slug) {
            $this->say("No longer in the description, and kept: $slug");
        }
        foreach (Importing::newServers($described, $source) as $server) {
            $this->say("The description names the server $server; the source stays where it stands.");
        }
        $unknown = array_diff($this->taken(), array_map(static fn (array $one): string => "{$one['slug']} › {$one['place']}", [...$merge->taken, ...$merge->kept]));
        if ($unknown !== []) {
            $this->say('There is no such conflict: '.implode(', ', $unknown).'.');
        }

        return [$source, Phrase::count(count($merge->added), 'endpoint')." added to $source->name, ".count($merge->changes).' brought up to date'];
    }

    private function withAccess(Described $described): Described
    {
        $name = (string) ($this->option('access') ?? '');
        if ($name !== '' && ! isset($described->alternatives[$name])) {
            throw new WrongUse("It offers no authentication \"$name\". ".($described->alternatives === [] ? 'There is nothing to choose.' : 'It offers: '.implode(', ', array_map(strval(...), array_keys($described->alternatives))).'.'));
        }
        if ($name === '' && $described->alternatives !== [] && $this->option('into') === null) {
            $this->say('Authentication: '.array_key_first($described->alternatives).'. It could also be, with --access: '.implode(', ', array_slice(array_map(strval(...), array_keys($described->alternatives)), 1)).'.');
        }

        return $described->withAccess($name);
    }

    /**
     * @return list<string> conflicts that go to the description
     */
    private function taken(): array
    {
        return array_values(array_map(strval(...), (array) $this->option('take')));
    }

    /**
     * @return list<string> origins
     */
    private function agreed(): array
    {
        return array_map(static fn (string $one): string => Origin::of($one) ?? throw new WrongUse("$one is no address of a server."), array_values(array_map(strval(...), (array) $this->option('also'))));
    }

    /**
     * @return array{Source, string}
     *
     * @throws InvalidSourceFile
     */
    private function asNew(Described $described, Described $kept, Importing $importing): array
    {
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
        $source = $importing->asSource($kept, $slug, $name, $environment, $base, $this->somebody(), $this->agreed());

        return [$source, "$name is there, with ".Phrase::count(count($source->current()->endpoints()), 'endpoint')];
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
                if ($found->refusal !== null) {
                    $this->say("    cannot be kept: $found->refusal");
                }
            }
            $this->mends($one);
        }

        return self::DONE;
    }

    private function mends(Described $described): void
    {
        foreach ($described->otherServers() as $origin => $figures) {
            $says = match (true) {
                $figures['secured'] === 0 => 'the file asks for no authentication there',
                in_array($origin, $this->agreed(), true) => 'the authentication of the source is sent there as well',
                default => 'the authentication of the source is not sent there (--also '.Origin::shown($origin).' does)',
            };
            $this->say(Phrase::count($figures['endpoints'], 'endpoint').' at '.Origin::shown($origin).", another server; $says.");
        }
        foreach (NoticeGroup::all($described->mends) as $group) {
            $label = ['mended' => 'Corrected', 'left-out' => 'Left out', 'note' => 'Note'][$group->kind];
            $count = count($group->notices);
            $this->say("$label · ".($count === 1 ? "{$group->notices[0]->place}: $group->title" : "$group->title — $count times, first at {$group->notices[0]->place}; all of them are in --list --json"));
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
