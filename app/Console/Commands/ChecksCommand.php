<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Models\CheckOutcome;
use App\Models\KeptTable;
use App\Runs\TriedCheck;
use App\Runs\TriedChecks;
use DeepSpring\Flatten\Plan;
use DeepSpring\SourceFile\EndpointDefinition;
use Symfony\Component\Yaml\Yaml;

/**
 * What the checks of a table find in the rows that are there, and which others would hold.
 */
final class ChecksCommand extends SpringCommand
{
    protected $signature = 'spring:checks {table : Name of a table} {--draft : Those of the draft, and not of what is published} {--propose : Rules that hold in the rows that are there, as a source file has them} {--environment= : Environment}';

    protected $description = 'Tries the checks of a table on the rows that are there, and proposes others';

    public function work(TriedChecks $checks): int
    {
        $name = (string) $this->argument('table');
        $table = $this->keptTable($name) ?? throw $this->noTable($name);
        $source = $table->endpoint->source;
        $file = $this->option('draft') ? $source->current() : $source->published() ?? $source->current();
        $definition = $file->endpoint($table->endpoint->slug);
        $plan = $definition?->plan();
        if ($definition === null || $plan === null) {
            $this->say("The endpoint that made $name has no columns any more.");

            return self::REFUSED;
        }

        return $this->option('propose') ? $this->propose($checks, $table, $definition, $plan) : $this->try($checks, $table, $definition, $plan);
    }

    private function propose(TriedChecks $checks, KeptTable $table, EndpointDefinition $definition, Plan $plan): int
    {
        $proposals = $checks->proposals($table->endpoint, $definition, $plan, $table->environment);
        foreach ($proposals as $one) {
            $this->line('- '.Yaml::dump($one->settings, 0).'  # '.$one->why);
        }
        $proposals !== [] || $this->say('Nothing is proposed: there are few rows, or what holds in them is checked already.');

        return self::DONE;
    }

    private function try(TriedChecks $checks, KeptTable $table, EndpointDefinition $definition, Plan $plan): int
    {
        $tried = $checks->try($table->endpoint, $definition, $plan, $table->environment);
        if (is_string($tried)) {
            $this->say($tried);

            return self::REFUSED;
        }
        foreach ($tried as $one) {
            $this->line("{$one->outcome->value}\t$one->words\t$one->sentence");
        }
        $tried !== [] || $this->say('There are no checks. With --propose it says which rules hold in the rows that are there.');

        return array_filter($tried, static fn (TriedCheck $one): bool => $one->outcome === CheckOutcome::Broken) === [] ? self::DONE : self::REFUSED;
    }
}
