<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Environments\EnvironmentRefused;
use App\Environments\Environments;
use App\Models\Environment;

final class EnvironmentCommand extends SpringCommand
{
    protected $signature = 'spring:environment {name? : Of one to add; without it, all are listed} {--remove : Remove it instead} {--rename= : Its new name}';

    protected $description = 'Lists, adds, renames or removes environments';

    public function work(Environments $environments): int
    {
        $name = $this->argument('name');
        if (! is_string($name)) {
            foreach (Environment::query()->orderBy('position')->get() as $one) {
                $this->give("$one->slug\t$one->name\n");
            }

            return self::DONE;
        }
        $there = Environment::named($name) ?? Environment::query()->where('name', $name)->first();
        $rename = $this->option('rename');
        try {
            if ($this->option('remove') || is_string($rename)) {
                $there ?? throw new WrongUse("There is no environment \"$name\".");
                is_string($rename) ? $environments->rename($there, $rename) : $environments->remove($there);
                $this->say(is_string($rename) ? "$there->slug is called $rename now." : "$there->name is removed.");
            } else {
                $this->say("{$environments->add($name)->name} is added.");
            }
        } catch (EnvironmentRefused $refused) {
            $this->say($refused->getMessage());

            return self::REFUSED;
        }

        return self::DONE;
    }
}
