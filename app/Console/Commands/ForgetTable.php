<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Reservoir\KeepFailed;
use App\Runs\TableRemoval;

final class ForgetTable extends SpringCommand
{
    protected $signature = 'spring:forget {table : Its name; tables of the same endpoint go with it} {--yes : Also when kept queries read it} {--environment= : Environment}';

    protected $description = 'Deletes a kept table, after saying what reads it';

    public function work(TableRemoval $removal): int
    {
        $name = (string) $this->argument('table');
        $table = $this->keptTable($name) ?? throw $this->noTable($name);
        $tables = $removal->tables($table->endpoint, $table->environment);
        foreach ($tables as $one) {
            $this->giveLine("$one->name\t$one->rows rows\t{$table->environment->slug}\tof {$table->endpoint->source->slug}/{$table->endpoint->slug}");
        }
        $readers = $removal->readers($tables);
        foreach ($readers as $query) {
            $this->giveLine("read by the query \"$query->name\" of ".($query->user->name ?? 'nobody'));
        }
        if ($readers->isNotEmpty() && ! $this->option('yes')) {
            $this->say('Nothing was done: these queries would fail. Say --yes to delete it anyway.');

            return self::REFUSED;
        }
        try {
            $names = $removal->remove($table->endpoint, $table->environment);
        } catch (KeepFailed $failed) {
            $this->say($failed->getMessage());

            return self::REFUSED;
        }
        $this->say('Gone: '.implode(', ', $names).'. The endpoint stays, and can be kept again.');

        return self::DONE;
    }
}
