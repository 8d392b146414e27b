<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Run;
use App\Models\RunState;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\Secrets\Vault;
use App\View\Show;
use Symfony\Component\Console\Helper\ProgressBar;
use Symfony\Component\Console\Output\ConsoleOutputInterface;

final class RefreshTables extends SpringCommand
{
    protected $signature = 'spring:refresh {table* : Names of tables, or SOURCE/ENDPOINT for one not kept yet} {--every-exchange : Keep every exchange} {--from-kept : Make them from the pages that are kept, without asking the API} {--environment= : Environment} {--secret=* : name=value} {--secrets= : A file of name=value lines}';

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
            $run = $runs->ask($endpoint, $environment, $this->somebody(), (bool) $this->option('every-exchange'), (bool) $this->option('from-kept'));
            if (! $run->wasRecentlyCreated) {
                $this->say("$name is being refreshed already, by run $run->id.");
                $code = self::REFUSED;

                continue;
            }
            if (! $this->show($refresh, $run)) {
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
        $asked = $this->option('environment');
        $tables = KeptTable::query()->with(['endpoint.source', 'environment'])->where('name', $name)
            ->when(is_string($asked) && $asked !== '', fn ($query) => $query->whereHas('environment', fn ($environment) => $environment->where('slug', $asked)))->get();
        if ($tables->count() > 1) {
            throw new WrongUse("$name is kept in several environments. Say which with --environment.");
        }
        $table = $tables->first() ?? throw new WrongUse("There is no table \"$name\". There are: ".(implode(', ', KeptTable::query()->orderBy('name')->pluck('name')->unique()->all()) ?: 'none').'.');

        return [$table->endpoint, $table->environment];
    }

    private function show(Refresh $refresh, Run $run): bool
    {
        $output = $this->output->getOutput();
        $bar = new ProgressBar($output instanceof ConsoleOutputInterface ? $output->getErrorOutput() : $output);
        $bar->setFormat(' %message% [%bar%] %elapsed%');
        $bar->setMessage('waiting for the first page');
        $bar->start();
        $run = $refresh->run($run, static function (Run $run) use ($bar): void {
            $bar->setMessage(Show::count($run->pages, 'page').', '.Show::count($run->records, 'record').', '.Show::count($run->rows, 'row').' loaded');
            $bar->advance();
        });
        $bar->clear();
        if ($run->state === RunState::Done) {
            $this->say(Show::count($run->rows, 'row').' kept, '.Show::count($run->rejects, 'reject').'. '.$run->ended);
            foreach ($run->findings ?? [] as $finding) {
                $this->say(($finding['doubt'] ? 'In doubt: ' : '').$finding['sentence']);
            }

            return true;
        }
        $this->say(($run->diagnosis === null ? (string) $run->ended : $run->diagnosis['what'].' '.$run->diagnosis['advice']).($run->continuable ? " What was read is kept: ./spring runs $run->id --go-on" : ''));

        return false;
    }
}
