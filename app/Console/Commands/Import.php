<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Models\Environment;
use App\Secrets\Vault;
use App\Sources\SourceStore;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;

final class Import extends SpringCommand
{
    protected $signature = 'spring:import {file : A source file; - for standard input} {--draft : Keep as the draft, do not publish} {--environment= : Environment that the secrets are for} {--secret=* : name=value} {--secrets= : A file of name=value lines}';

    protected $description = 'Adds a source from its file, or changes it';

    public function work(SourceStore $store, Vault $vault): int
    {
        $file = (string) $this->argument('file');
        $text = $file === '-' ? stream_get_contents(STDIN) : @file_get_contents($this->path($file));
        if ($text === false) {
            throw new WrongUse("$file cannot be read.");
        }
        try {
            $definition = SourceFile::read($text);
        } catch (InvalidSourceFile $invalid) {
            foreach ($invalid->faults as $fault) {
                $this->say("$file: $fault");
            }

            return self::REFUSED;
        }
        foreach ($definition->source()->environments() as $slug) {
            Environment::query()->firstOrCreate(['slug' => $slug], ['name' => ucfirst($slug), 'position' => Environment::query()->count()]);
        }
        $source = $store->draft($definition, $this->somebody());
        $version = $this->option('draft') ? null : $store->publish($source, $this->somebody());
        $this->takeSecrets($source, $this->environmentOf($source), $vault);
        $this->say("{$definition->source()->name} is ".($version === null ? 'kept as a draft' : "published as version $version").', with '.count($definition->endpoints()).' endpoints.');

        return self::DONE;
    }
}
