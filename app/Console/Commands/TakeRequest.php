<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Console\CallerFiles;
use App\Console\RowTable;
use App\Console\WatchedRun;
use App\Http\Endpoints\KeepFields;
use App\Imports\Importing;
use App\Imports\Uploads;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Source;
use App\Queries\QueryRefused;
use App\Queries\QueryRunner;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\Secrets\Vault;
use App\Sources\FirstTake;
use App\Sources\NewSource;
use App\Sources\SourceStore;
use App\View\Show;
use DeepSpring\Describe\CannotDescribe;
use DeepSpring\Describe\Described;
use DeepSpring\Describe\Importers;
use DeepSpring\Describe\ImportInput;
use DeepSpring\OData\ServiceAddress;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\Suggest\Suggestion;
use DeepSpring\Value\Phrase;
use Illuminate\Validation\ValidationException;

final class TakeRequest extends SpringCommand
{
    protected $signature = 'spring:take {what : A cURL command, an address, or a file that holds one request (cURL, HAR) or rows (CSV, XLSX); - for standard input} {--sheet= : Sheet of an XLSX file (the first)} {--keep : Keep its rows as a table, and show the first of them} {--rows=10 : Rows that are shown} {--into= : Source that the endpoint is added to} {--slug= : Short name of a new source} {--name= : Name of a new source} {--environment= : Environment} {--secret=* : name=value} {--secrets= : A file of name=value lines}';

    protected $description = 'Makes an endpoint of one request, sets it up by its answer, and keeps its table';

    private ?Source $made = null;

    public function work(NewSource $new, SourceStore $store, Vault $vault, FirstTake $take, Importing $importing, Runs $runs, Refresh $refresh, QueryRunner $runner): int
    {
        $environment = $this->environment();
        try {
            $row = $this->option('into') !== null ? $this->into($this->source((string) $this->option('into')), $environment, $importing, $take, $vault) : $this->asNew($environment, $new, $store, $vault, $take);
        } catch (ValidationException $refused) {
            throw new WrongUse(implode(' ', array_merge(...array_values($refused->errors()))));
        } catch (CannotDescribe $cannot) {
            throw new WrongUse(implode(' ', $cannot->sentences));
        } catch (InvalidSourceFile $invalid) {
            throw new WrongUse(implode(' ', array_map(strval(...), $invalid->faults)));
        }
        if ($row === null) {
            return $this->withoutEndpoint();
        }
        if (! $this->told($row->refresh(), $environment)) {
            return self::REFUSED;
        }

        return $this->option('keep') ? $this->kept($row, $environment, $store, $runs, $refresh, $runner) : self::DONE;
    }

    private function environment(): Environment
    {
        $asked = (string) ($this->option('environment') ?? '');

        return ($asked === '' ? Environment::query()->orderBy('position')->first() : Environment::named($asked)) ?? throw new WrongUse("There is no environment \"$asked\".");
    }

    private function given(): string
    {
        $what = trim((string) $this->argument('what'));
        if (preg_match('~^(curl(\.exe)?\s|https?://)~i', $what) === 1) {
            return $what;
        }
        $text = $what === '-' ? stream_get_contents(STDIN) : CallerFiles::read($this->path($what));

        return is_string($text) ? trim($text) : throw new WrongUse("$what is neither a cURL command nor an address, and cannot be read as a file.");
    }

    private function asNew(Environment $environment, NewSource $new, SourceStore $store, Vault $vault, FirstTake $take): ?Endpoint
    {
        if (Uploads::isOne((string) $this->argument('what'))) {
            return $this->asUpload($environment, $new, $store, $take);
        }
        $text = $this->given();
        [$name, $slug] = [(string) ($this->option('name') ?? ''), (string) ($this->option('slug') ?? '')];
        $secrets = [];
        $isRecorded = false;
        if (ServiceAddress::of($text) !== null) {
            throw new WrongUse('This is an OData service. Add it on its page, or with ./spring import, and choose from its sets: ./spring odata lists them.');
        }
        if (preg_match('~^https?://[^\s?]+$~i', $text) === 1) {
            $file = $new->at($text, $environment, $name, $slug);
        } else {
            $described = $this->described($text, []);
            $file = $new->of($described, $environment, $name, $slug);
            $secrets = $described->secrets;
            $isRecorded = $described->kind === 'har';
        }
        $source = $this->made = $store->draft($file, $this->somebody());
        foreach ($secrets as $secret => $value) {
            $vault->put($source, $environment, (string) $secret, $value, $this->somebody());
        }
        $this->takeSecrets($source, $environment, $vault);
        $this->say("Added as the source $source->slug, a draft in $environment->name.");

        return $take->ofNew($source, $environment, $this->somebody(), $isRecorded);
    }

    /**
     * A file of rows: handed in, and read like an answer.
     */
    private function asUpload(Environment $environment, NewSource $new, SourceStore $store, FirstTake $take): ?Endpoint
    {
        $given = (string) $this->argument('what');
        $copy = CallerFiles::read($this->path($given)) ?? throw new WrongUse("$given cannot be read.");
        $path = (string) tempnam(sys_get_temp_dir(), 'upload');
        try {
            file_put_contents($path, $copy);
            $uploads = new Uploads;
            $sheet = $this->option('sheet');
            $upload = $uploads->put($environment, $path, basename($given), $this->somebody(), is_string($sheet) ? $sheet : null);
        } finally {
            @unlink($path);
        }
        array_map($this->say(...), $uploads->told);
        $source = $this->made = $store->draft($new->upload($upload, (string) ($this->option('name') ?? ''), (string) ($this->option('slug') ?? '')), $this->somebody());
        $this->say("Added as the source $source->slug, a draft in $environment->name.");

        return $take->ofNew($source, $environment, $this->somebody());
    }

    private function into(Source $source, Environment $environment, Importing $importing, FirstTake $take, Vault $vault): Endpoint
    {
        $file = $source->current()->source();
        $described = $this->described($this->given(), array_values(array_filter(array_map($file->base(...), $file->environments()))))->only(null);
        $somebody = $this->somebody() ?? throw new WrongUse('There is nobody who may build; add a person first.');
        if ($described->access !== [] && $file->accessEntries() !== []) {
            $this->say('The authentication of the source stays as it is; that of the request was not taken.');
        }
        $merge = $importing->into($described, $source, null, $environment, $somebody);
        $slug = $merge->added[0] ?? throw new WrongUse("$source->slug has an endpoint for this request already.");
        $this->takeSecrets($source, $environment, $vault);
        $row = $source->endpoints()->where('slug', $slug)->firstOrFail();
        $take->of($row, $environment, $somebody);

        return $row;
    }

    /**
     * @param  list<string>  $bases
     *
     * @throws CannotDescribe
     */
    private function described(string $text, array $bases): Described
    {
        $all = Importers::every(new ImportInput($text, bases: $bases));
        $described = $all[0]->document === null ? $all[0]->checked() : throw new WrongUse('This is a source file. ./spring import takes it.');
        foreach ($described->mends as $mend) {
            $this->say($mend->what);
        }
        if (count($all) !== 1 || count($described->endpoints) !== 1) {
            throw new WrongUse('It holds '.Phrase::count(array_sum(array_map(static fn (Described $one): int => count($one->endpoints), $all)), 'request').', and one is taken at a time. ./spring import takes several.');
        }
        if ($described->endpoints[0]->refusal !== null) {
            throw new WrongUse("A source file cannot hold this: {$described->endpoints[0]->refusal}");
        }

        return $described;
    }

    private function withoutEndpoint(): int
    {
        $writes = ($this->made?->current()->endpoints() ?? []) !== [];
        $this->say($writes ? 'It writes, so it was not sent. Try it with ./spring try, with --yes.' : 'Nothing was found there that could be an endpoint. ./spring try '.($this->made->slug ?? '').' says what it answers.');

        return self::REFUSED;
    }

    /**
     * What was set, what it stands on, and what is missing.
     *
     * @return bool whether it can be kept
     */
    private function told(Endpoint $row, Environment $environment): bool
    {
        $definition = $row->source->refresh()->current()->endpoint($row->slug);
        $this->say("Endpoint {$row->source->slug}/$row->slug: {$definition?->ask()->method} {$definition?->ask()->path}");
        foreach (array_map(Suggestion::of(...), $row->suggestions['made'] ?? []) as $one) {
            $this->say('  suggested, '.Show::SUGGESTED[$one->place].($one->place === 'columns' ? '' : ': '.self::written($one->value)).", $one->reason");
        }
        foreach ($row->suggestions['questions'] ?? [] as $question) {
            $this->say("  {$question['text']}");
        }
        $try = $row->lastTry($environment);
        if ($try?->succeeded === false) {
            $this->say("  {$try->diagnosis['what']} {$try->diagnosis['advice']}");
        }

        return isset($definition->endpoint['flatten']);
    }

    private static function written(mixed $value): string
    {
        return is_string($value) ? $value : (string) json_encode($value, JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE);
    }

    private function kept(Endpoint $row, Environment $environment, SourceStore $store, Runs $runs, Refresh $refresh, QueryRunner $runner): int
    {
        $file = $row->source->current();
        $definition = $file->endpoint($row->slug) ?? throw new \LogicException("The endpoint $row->slug is gone.");
        foreach ((new KeepFields($definition))->missing() as $fault) {
            $this->say($fault->message);

            return self::REFUSED;
        }
        $store->publish($row->source, $this->somebody());
        if (! (new WatchedRun($this->output, $this->say(...)))->show($refresh, $runs->ask($row->refresh()->load('source'), $environment, $this->somebody()))) {
            return self::REFUSED;
        }
        foreach (KeptTable::query()->where(['endpoint_id' => $row->id, 'environment_id' => $environment->id])->orderBy('id')->get() as $number => $table) {
            $this->giveLine("$table->name: ".Show::count($table->rows, 'row'));
            if ($number === 0) {
                $this->shown($table, $environment, $runner);
            }
        }

        return self::DONE;
    }

    private function shown(KeptTable $table, Environment $environment, QueryRunner $runner): void
    {
        $limit = max(1, min(1000, (int) $this->option('rows')));
        try {
            $open = $runner->stream($this->somebody() ?? throw new WrongUse('There is nobody to run the statement as.'), $environment, "select * from `$table->name` limit $limit", 60);
            (new RowTable($this->output, $this->say(...)))->show($open->columns, $open->rows);
        } catch (QueryRefused $refused) {
            $this->say($refused->getMessage());
        }
    }
}
