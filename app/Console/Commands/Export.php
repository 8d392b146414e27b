<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\OData\ServiceModels;

final class Export extends SpringCommand
{
    protected $signature = 'spring:export {source : Its short name} {--published : What is published, not the draft}';

    protected $description = 'Writes the file of a source to standard output';

    public function work(ServiceModels $services): int
    {
        $source = $this->source((string) $this->argument('source'));
        $file = $this->option('published') ? $source->published() : $source->current();
        if ($file === null) {
            $this->say('Nothing of it is published yet.');

            return self::REFUSED;
        }
        $this->give($services->text($source, $file));

        return self::DONE;
    }
}
