<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Models\TableProfile;
use App\Reservoir\ColumnProfile;
use App\Reservoir\KeepFailed;
use App\Runs\ProfileBook;

final class ProfileCommand extends SpringCommand
{
    protected $signature = 'spring:profile {table? : A kept table} {--now : Looks at its rows again} {--due : Looks at all tables that were refreshed since, and says nothing} {--environment= : Environment}';

    protected $description = 'Says what the columns of a table are like: values that are missing, different ones, ranges, lengths';

    public function work(ProfileBook $book): int
    {
        if ($this->option('due')) {
            $book->takeDue();

            return self::DONE;
        }
        $name = is_string($this->argument('table')) ? $this->argument('table') : throw new WrongUse('Say which table.');
        $table = $this->keptTable($name) ?? throw $this->noTable($name);
        $last = TableProfile::of($table)->first();
        try {
            $profile = $last === null || $last->columns === [] || $this->option('now') ? $book->take($table) : $last;
        } catch (KeepFailed $failed) {
            $this->say($failed->getMessage());

            return self::REFUSED;
        }
        foreach ($profile->columns as $column) {
            $of = ColumnProfile::fromArray($column);
            $this->giveLine(implode("\t", array_map(static fn (mixed $one): string => (string) preg_replace('/\s+/u', ' ', (string) $one), [$of->name, $of->nulls, $of->distinct ?? '?', $of->least ?? '', $of->most ?? '', $of->lengths === null ? '' : implode('-', $of->lengths)])));
        }
        $this->say("$profile->rows rows, looked at {$profile->at->format('Y-m-d H:i:s')} UTC".($profile->run_id === $table->run_id ? '.' : '; the table was refreshed since.'));

        return self::DONE;
    }
}
