<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Models\Exchange;
use App\Pipeline\LookupSettings;
use App\Reservoir\KeepFailed;
use App\Reservoir\TableRows;
use App\Runs\LookupEstimate;
use App\Runs\LookupRows;
use App\Runs\Tries;
use App\Secrets\Vault;
use DeepSpring\Ask\InvalidInput;

/**
 * One request for each row of a table: tried on some, and reckoned for all. `refresh` reads all of them.
 */
final class LookupCommand extends SpringCommand
{
    /** Rows that are tried at most. */
    private const MOST = 50;

    protected $signature = 'spring:lookup {endpoint : SOURCE/ENDPOINT} {--rows=5 : How many rows are tried; 0 for none} {--environment= : Environment} {--secret=* : name=value} {--secrets= : A file of name=value lines}';

    protected $description = 'Tries an endpoint that is read for each row of a table on some of them, and says what all would take';

    public function work(Tries $tries, TableRows $rows, Vault $vault): int
    {
        [$slug, $name] = explode('/', (string) $this->argument('endpoint'), 2) + [1 => ''];
        $source = $this->source($slug);
        $endpoint = $source->endpoints()->where('slug', $name)->first() ?? throw new WrongUse("$slug has no endpoint \"$name\".");
        $most = preg_match('/^\d{1,4}$/D', (string) $this->option('rows')) === 1 ? min(self::MOST, (int) $this->option('rows')) : throw new WrongUse('--rows is a number, 50 at most.');
        $environment = $this->environmentOf($source);
        $this->takeSecrets($source, $environment, $vault);
        $file = $source->current();
        $definition = $file->endpoint($name) ?? throw new WrongUse("$slug has no endpoint \"$name\".");
        try {
            $settings = LookupSettings::of($definition, $definition->plan()) ?? throw new WrongUse("$slug/$name is not read for each row of a table: keep.inputs says so with from.");
            $found = LookupRows::of($rows, $settings, $environment);
            $succeeded = true;
            if ($most > 0) {
                [$try] = $tries->rows($endpoint, $file, $definition, $settings, $found->read(most: $most), $environment, $this->somebody());
                foreach ($try->exchanges()->where('number', '>', 0)->orderBy('id')->get() as $one) {
                    $this->line($this->words($one));
                }
                $succeeded = $try->succeeded;
                $this->say($try->ended ?? (string) ($try->diagnosis['what'] ?? ''));
            }
            $this->say(LookupEstimate::of($rows, $settings, $endpoint, $definition, $file->source()->pace, $environment)->words());
        } catch (InvalidInput|KeepFailed $failed) {
            $this->say($failed->getMessage());

            return self::REFUSED;
        }

        return $succeeded ? self::DONE : self::REFUSED;
    }

    private function words(Exchange $one): string
    {
        return implode("\t", [(string) $one->number, (string) strtok($one->request, "\n"), (string) ($one->status ?? 'no answer'), $one->records === null ? 'failed' : "$one->records"]);
    }
}
