<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Runs\OrphanedTables;
use App\Sources\SourceStore;
use DeepSpring\SourceFile\DocumentChange;
use DeepSpring\SourceFile\DocumentComparison;
use DeepSpring\SourceFile\SourceFile;

final class Versions extends SpringCommand
{
    protected $signature = 'spring:versions {source : Its short name} {--compare= : Two versions, like 3..5 or 5..draft} {--restore= : A version that becomes the draft again} {--publish : Publish the draft}';

    protected $description = 'Lists, compares and brings back the versions of a source';

    public function work(SourceStore $store, OrphanedTables $orphaned): int
    {
        $source = $this->source((string) $this->argument('source'));
        if ($this->option('restore') !== null) {
            if ($source->documents()->where('version', (int) $this->option('restore'))->doesntExist()) {
                throw new WrongUse("{$source->name} has no version {$this->option('restore')}.");
            }
            $store->restore($source, (int) $this->option('restore'), $this->somebody());
            $this->say("Version {$this->option('restore')} is the draft of {$source->name} now.");
        }
        if ($this->option('compare') !== null) {
            [$left, $right] = explode('..', (string) $this->option('compare'), 2) + [1 => 'draft'];
            foreach ((new DocumentComparison)->of($this->file($source, $left)->document, $this->file($source, $right)->document) as $change) {
                $this->giveLine(implode(' › ', $change->place()).": {$change->kind}".($change->kind === 'changed' ? ', '.DocumentChange::shown($change->was).' → '.DocumentChange::shown($change->now) : ' '.DocumentChange::shown($change->kind === 'added' ? $change->now : $change->was)));
            }

            return self::DONE;
        }
        if ($this->option('publish')) {
            $this->say("{$source->name} is published as version {$store->publish($source, $this->somebody())}.");
            $this->tellOrphans($source, $orphaned);
        }
        foreach ($source->documents()->whereNotNull('version')->orderByDesc('version')->select(['version', 'updated_at'])->get() as $one) {
            $this->giveLine("{$one->version}\t{$one->updated_at}".($one->version === $source->refresh()->published_version ? "\tin use" : ''));
        }
        if ($source->draft() !== null) {
            $this->say('There is a draft besides.');
        }

        return self::DONE;
    }

    private function file(\App\Models\Source $source, string $which): SourceFile
    {
        return $source->documents()->where('version', $which === 'draft' ? null : (int) $which)->first()?->file() ?? throw new WrongUse("{$source->name} has no version \"$which\".");
    }
}
