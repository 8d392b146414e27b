<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Console\WatchedRun;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Source;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\Runs\RunWish;
use App\Secrets\Vault;
use DeepSpring\Flatten\Plan;

final class RefreshTables extends SpringCommand
{
    protected $signature = 'spring:refresh {table* : Names of tables, or SOURCE/ENDPOINT for one not kept yet} {--every-exchange : Keep every exchange} {--whole : Read everything, also where changes would be enough} {--despite-checks : Put new rows in place though a check would stop them} {--from-kept : Make them from the pages that are kept, without asking the API} {--environment= : Environment} {--secret=* : name=value} {--secrets= : A file of name=value lines}';

    protected $description = 'Refreshes tables from their source';

    public function work(Runs $runs, Refresh $refresh, Vault $vault): int
    {
        $code = self::DONE;
        $done = [];
        foreach ((array) $this->argument('table') as $name) {
            [$endpoint, $environment] = $this->find((string) $name);
            if (in_array("$endpoint->id/$environment->id", $done, true)) {
                continue;
            }
            $done[] = "$endpoint->id/$environment->id";
            $this->takeSecrets($endpoint->source, $environment, $vault);
            if ($endpoint->source->published_version === null) {
                throw new WrongUse("{$endpoint->source->slug} is a draft only. Publish it first, on its sheet or by importing its file.");
            }
            $run = $runs->ask($endpoint, $environment, $this->somebody(), new RunWish((bool) $this->option('every-exchange'), (bool) $this->option('from-kept'), (bool) $this->option('whole'), (bool) $this->option('despite-checks')));
            if (! $run->wasRecentlyCreated) {
                $this->say("$name is being refreshed already, by run $run->id.");
                $code = self::REFUSED;

                continue;
            }
            if (! (new WatchedRun($this->output, $this->say(...)))->show($refresh, $run)) {
                $code = self::REFUSED;
            }
        }

        return $code;
    }

    /**
     * @return array{Endpoint, Environment}
     */
    private function find(string $name): array
    {
        if (str_contains($name, '/')) {
            [$slug, $endpoint] = explode('/', $name, 2);
            $source = $this->source($slug);

            return [$source->endpoints()->where('slug', $endpoint)->first() ?? throw new WrongUse("$slug has no endpoint \"$endpoint\"."), $this->environmentOf($source)];
        }
        $table = $this->keptTable($name);
        if ($table === null) {
            return $this->planned($name) ?? throw $this->noTable($name);
        }

        return [$table->endpoint, $table->environment];
    }

    /**
     * A table that a published source describes and that was never read.
     *
     * @return array{Endpoint, Environment}|null
     *
     * @throws WrongUse when several sources describe one of that name
     */
    private function planned(string $name): ?array
    {
        $found = [];
        foreach (Source::query()->get()->whereNotNull('published_version') as $source) {
            foreach ($source->published()?->endpoints() ?? [] as $endpoint) {
                $tables = isset($endpoint->endpoint['flatten']) && ! $endpoint->does()->writes() ? array_column(Plan::tablesIn($endpoint->endpoint['flatten']), 'table') : [];
                if (in_array($name, $tables, true)) {
                    $found[] = $source->endpoints()->where('slug', $endpoint->slug)->first();
                }
            }
        }
        $found = array_values(array_filter($found));
        if (count($found) > 1) {
            throw new WrongUse("Several endpoints describe a table \"$name\": ".implode(', ', array_map(static fn (Endpoint $one): string => "{$one->source->slug}/$one->slug", $found)).'. Name one of them.');
        }

        return $found === [] ? null : [$found[0], $this->environmentOf($found[0]->source)];
    }
}
