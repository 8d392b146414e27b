<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Console\CallerFiles;
use App\Evidence\CurrentAnswer;
use App\Evidence\SampledRecords;
use App\Evidence\TrySharing;
use App\Http\Endpoints\EndpointSheets;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Exchange;
use App\Models\RunState;
use App\Models\Source;
use App\Models\Tryout;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\Runs\Tries;
use App\Secrets\Vault;
use App\View\Show;
use App\View\Stages;
use DeepSpring\Ask\File;
use DeepSpring\Ask\InputType;
use DeepSpring\Flatten\Proposal\Proposer;
use DeepSpring\Flatten\Proposal\RecordsFinder;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SourceFile;
use Symfony\Component\Yaml\Yaml;

final class TryEndpoint extends SpringCommand
{
    protected $signature = 'spring:try {what : SOURCE/ENDPOINT, or SOURCE to test it} {--in=* : name=value of an input; name=@FILE for one that takes a file} {--json : The first answer on standard output} {--to-the-end : Read all of it, and keep nothing} {--onward : What the answer says about further pages, on standard output} {--columns : Where its records are and the tables they suggest, as a source file has them, on standard output} {--yes : Send it though it writes} {--curl : The request as a cURL command on standard output} {--har= : A file for the exchanges} {--environment= : Environment} {--secret=* : name=value} {--secrets= : A file of name=value lines}';

    protected $description = 'Tries an endpoint and says what happened';

    public function work(Tries $tries, Vault $vault, EndpointSheets $sheets, TrySharing $sharing, Runs $runs, Refresh $refresh): int
    {
        [$slug, $name] = explode('/', (string) $this->argument('what'), 2) + [1 => null];
        $source = $this->source((string) $slug);
        $environment = $this->environmentOf($source);
        $this->takeSecrets($source, $environment, $vault);
        $file = $source->current();
        if ($name === null) {
            $try = $tries->source($source, $file, $environment, $this->somebody());
        } else {
            $endpoint = $file->endpoint($name);
            $row = $source->endpoints()->where('slug', $name)->first();
            if ($endpoint === null || $row === null) {
                throw new WrongUse("{$source->slug} has no endpoint \"$name\". It has: ".implode(', ', array_map(static fn (EndpointDefinition $one): string => $one->slug, $file->endpoints())).'.');
            }
            $given = $this->inputs($endpoint);
            if ($endpoint->does()->writes() && ! $this->option('yes')) {
                $this->say("{$endpoint->name} writes ({$endpoint->ask()->method} {$endpoint->ask()->path}), and would do so in {$environment->name}. Add --yes to send it once.");

                return self::WRONG_USE;
            }
            if ($this->option('to-the-end')) {
                return $this->toTheEnd($runs, $refresh, $row, $file, $environment);
            }
            $try = $tries->endpoint($row, $file, $endpoint, $environment, $this->somebody(), $given + $endpoint->ask()->tryValues());
            if ($this->option('columns') && $try->succeeded) {
                $this->columns($row, $endpoint, $environment, $try);
            }
        }

        return $this->report($try, $sheets, $sharing);
    }

    /**
     * What may stand under `answer` and `flatten`; why it is so goes to a person.
     */
    private function columns(Endpoint $row, EndpointDefinition $endpoint, Environment $environment, Tryout $try): void
    {
        $answer = $endpoint->endpoint['answer'] ?? [];
        if (! $endpoint->answer()->isChosen()) {
            $first = CurrentAnswer::of($try->exchanges->first(), null, $endpoint->answer());
            $found = $first->isThere ? (new RecordsFinder)->find($first->document)[0] ?? null : null;
            $answer = ($found->answer ?? []) + $answer;
            $this->say('Records: '.($found->why ?? 'none were found').'.');
            $endpoint = new EndpointDefinition(array_filter(['answer' => $answer]) + $endpoint->endpoint);
        }
        $proposal = (new Proposer)->propose(SampledRecords::of($row, $endpoint, $environment)->written(), (string) ($endpoint->endpoint['flatten']['table'] ?? str_replace('-', '_', $row->slug)));
        foreach ([...$proposal->reasons, ...$proposal->notes] as $where => $note) {
            $this->say("$where: $note");
        }
        $this->give(Yaml::dump(array_filter(['answer' => $answer, 'flatten' => $proposal->flatten]), 4, 2, Yaml::DUMP_EMPTY_ARRAY_AS_SEQUENCE));
    }

    /**
     * @return array<string, list<string>>
     */
    private function inputs(EndpointDefinition $endpoint): array
    {
        $given = [];
        foreach ((array) $this->option('in') as $pair) {
            if (preg_match('/^([^=]+)=(.*)$/sD', (string) $pair, $part) !== 1) {
                throw new WrongUse('An input is given as name=value.');
            }
            $many = false;
            foreach ($endpoint->ask()->inputs as $input) {
                $many = $many || ($input->name === $part[1] && $input->many !== null);
                if ($input->name === $part[1] && $input->type === InputType::File && str_starts_with($part[2], '@')) {
                    $part[2] = $this->file(substr($part[2], 1));
                }
            }
            $given[$part[1]] = [...($given[$part[1]] ?? []), ...($many ? explode(',', $part[2]) : [$part[2]])];
        }

        return $given;
    }

    private function file(string $name): string
    {
        $content = CallerFiles::read($this->path($name));
        if ($content === null) {
            throw new WrongUse("$name cannot be read.");
        }

        return (new File(basename($name), (string) ((new \finfo(FILEINFO_MIME_TYPE))->buffer($content) ?: 'application/octet-stream'), $content))->value();
    }

    private function report(Tryout $try, EndpointSheets $sheets, TrySharing $sharing): int
    {
        $first = $try->exchanges->first();
        if ($this->option('curl') && $first instanceof Exchange) {
            $this->give($sharing->curl($first));
        }
        if ($this->option('har') !== null) {
            if (! CallerFiles::write($this->path((string) $this->option('har')), $sharing->har($try))) {
                throw new WrongUse("{$this->option('har')} cannot be written.");
            }
        }
        $last = $try->succeeded ? $try->exchanges->first() : $try->exchanges->last();
        if ($this->argument('what') === Source::query()->whereKey($try->source_id)->value('slug')) {
            foreach ((new Stages($try, $last, true))->all as $stage) {
                $this->say(sprintf('  %s %-16s %s', ['ok' => '✓', 'bad' => '✕', 'no' => '·'][$stage['state']], $stage['name'], trim(($stage['ms'] === null ? '' : Show::duration($stage['ms'])).' '.$stage['note'])));
            }
        }
        foreach ($try->tokenExchanges()->get() as $exchange) {
            $this->say(strtok($exchange->request, "\n").'  '.($exchange->status ?? 'no answer').', '.Show::duration($exchange->timing['total'] ?? 0).($exchange->purpose === 'token' ? ', for a token' : ', so it was sent once more with a new token'));
        }
        foreach ($try->exchanges as $exchange) {
            $this->say(strtok($exchange->request, "\n").'  '.($exchange->status ?? 'no answer').', '.Show::duration($exchange->timing['total'] ?? 0).', '.Show::bytes($exchange->bytes).($exchange->records === null ? '' : ', '.Show::count($exchange->records, 'record')));
        }
        if ($this->option('onward') && $first instanceof Exchange) {
            $this->onward($sheets, $try, $first);
        }
        if ($this->option('json') && $first instanceof Exchange) {
            $this->give((string) $first->text());
        }
        if ($try->diagnosis !== null) {
            $this->say($try->diagnosis['what'].' '.$try->diagnosis['advice']);
            foreach ($try->diagnosis['evidence'] ?? [] as $line) {
                $this->say("  $line");
            }
            foreach ($try->diagnosis['others'] ?? [] as $other) {
                $this->say("Less likely: {$other['what']} {$other['advice']}");
            }

            return $try->diagnosis['code'] === 'input' ? self::WRONG_USE : self::REFUSED;
        }
        foreach ($try->notes ?? [] as $note) {
            $this->say("{$note['what']} {$note['advice']}");
        }
        $this->say(Show::count($try->records, 'record').'. '.($try->ended ?? 'It answers.'));

        return self::DONE;
    }

    private function toTheEnd(Runs $runs, Refresh $refresh, Endpoint $row, SourceFile $file, Environment $environment): int
    {
        if ($file->endpoint($row->slug)?->does()->writes() === true) {
            throw new WrongUse("{$row->name} writes, so it is not read to its end.");
        }
        $run = $refresh->run($runs->prove($row, $file, $environment, $this->somebody()));
        foreach ($run->findings ?? [] as $finding) {
            $this->say(($finding['doubt'] ? 'In doubt: ' : '').$finding['sentence']);
        }
        $this->say(($run->diagnosis === null ? "$run->ended Nothing was kept." : $run->diagnosis['what'].' '.$run->diagnosis['advice']).' '.Show::count($run->rejects, 'value').' that did not fit.');

        return $run->state === RunState::Done ? self::DONE : self::REFUSED;
    }

    /**
     * One line of JSON for each way in which the rest may come, the likeliest first.
     */
    private function onward(EndpointSheets $sheets, Tryout $try, Exchange $first): void
    {
        $row = Endpoint::query()->findOrFail($try->endpoint_id);
        $file = $row->source->current();
        $definition = $file->endpoint($row->slug)->endpoint ?? [];
        foreach ($sheets->endpoint($row, $file, new EndpointDefinition(array_diff_key($definition, ['onward' => 1])), Environment::query()->findOrFail($try->environment_id))->suggestions()->paging() as $proposal) {
            $this->giveLine((string) json_encode(['onward' => $proposal->onward, 'reason' => $proposal->reason, 'proof' => $proposal->proof, 'weight' => $proposal->weight], JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE));
        }
    }
}
