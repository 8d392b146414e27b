<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Models\AllowedHost;
use App\Models\ChangeRight;
use App\Models\Consumer;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Role;
use App\Models\RunState;
use App\Models\SavedQuery;
use App\Models\Source;
use App\Models\User;
use App\OData\MetadataFetcher;
use App\Operations\Upgrade;
use App\Operations\UpgradeRefused;
use App\Outlets\CannotPublish;
use App\Outlets\FeedBook;
use App\People\DemoPeople;
use App\People\Invitations;
use App\Queries\Keeping\QueryKeeping;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\Runs\Tries;
use App\Secrets\KeyFile;
use App\Secrets\UnreadableSecret;
use App\Secrets\Vault;
use App\Sources\SourceStore;
use DeepSpring\Ask\RowInputs;
use DeepSpring\SourceFile\Chosen;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Console\Command;

/**
 * Brings the database up to date; on an empty one, adds the demo of the Saltmarsh Circle.
 */
final class Prepare extends Command
{
    protected $signature = 'spring:prepare {--no-demo : Without the demo; prints a link for the first administrator} {--bare : Tables and environments alone} {--forget-secrets : Begin without what a lost key had sealed}';

    protected $description = 'Migrates the database and adds the demo data when it is empty';

    public function handle(SourceStore $store, Vault $vault, Tries $tries, Runs $runs, Refresh $refresh, MetadataFetcher $metadata, Upgrade $upgrade, Invitations $invitations, DemoPeople $demo, QueryKeeping $keeping, FeedBook $feeds): int
    {
        try {
            $upgrade->run();
            $key = KeyFile::ofInstallation();
            if ($this->option('forget-secrets')) {
                foreach ($key->forget() as $name) {
                    $this->line("Forgotten      $name");
                }
            }
            $key->ensure();
        } catch (UpgradeRefused|UnreadableSecret $refused) {
            fwrite(STDERR, $refused->getMessage()."\n");

            return self::FAILURE;
        }
        if ($vault->trouble() !== null) {
            fwrite(STDERR, "{$vault->trouble()}. Put the right file back from a backup, or begin without its secrets with ./spring up --forget-secrets.\n");

            return self::FAILURE;
        }
        foreach (['production' => 'Production', 'trial' => 'Trial'] as $slug => $name) {
            Environment::query()->firstOrCreate(['slug' => $slug], ['name' => $name, 'position' => Environment::query()->count()]);
        }
        $runs->rescue();
        Environment::query()->get()->each($keeping->alignViews(...));
        $feeds->alignViews();
        if ($this->option('bare')) {
            return self::SUCCESS;
        }
        if (User::query()->exists()) {
            $this->tell($demo->signIns());

            return self::SUCCESS;
        }
        if ($this->option('no-demo')) {
            $this->tell(['First administrator, once and within an hour:', '  '.$invitations->first()]);

            return self::SUCCESS;
        }
        $this->makeDemo($demo, $store, $vault, $tries, $runs, $refresh, $metadata);
        $this->tell($demo->signIns());

        return self::SUCCESS;
    }

    /**
     * The people, sources and tables of the Saltmarsh Circle.
     */
    private function makeDemo(DemoPeople $demo, SourceStore $store, Vault $vault, Tries $tries, Runs $runs, Refresh $refresh, MetadataFetcher $metadata): void
    {
        foreach (['standins' => 'Stand-ins', 'private' => 'Stand-ins that are private'] as $set => $note) {
            AllowedHost::query()->firstOrCreate(['host' => (string) parse_url((string) config("spring.demo.$set"), PHP_URL_HOST), 'port' => (int) parse_url((string) config("spring.demo.$set"), PHP_URL_PORT)], ['note' => "$note of the demo"]);
        }
        $trial = Environment::named('trial') ?? throw new \LogicException('Trial was just made.');
        $builder = $demo->make($trial);
        $secrets = ['loans-desk' => ['client_id' => 'circle-desk', 'client_secret' => 'ld-secret-4f0c2a77b1e9d358'], 'stores' => ['key' => 'st-demo-0b8e5c71f9a2d446'], 'freight-tracker' => ['password' => 'tide-and-rope-22', 'key' => 'ft-demo-8a1c55d0b7e23f2a'], 'box-office' => ['client_secret' => 'bo-secret-1d77c0a94be2f683'], 'crate-loggers' => ['key' => 'cr-demo-7d13f0a96be4c258'], 'registrar' => ['password' => 'rg-demo-lamp-and-oar'], 'registrar-odata' => ['password' => 'rg-demo-lamp-and-oar']];
        foreach ($secrets as $slug => $values) {
            $text = str_replace('http://127.0.0.1:8401', (string) config('spring.demo.standins'), (string) file_get_contents(database_path("demo/$slug.yaml")));
            $file = SourceFile::read($text);
            $source = $store->draft($file, $builder);
            foreach ($values as $name => $value) {
                $vault->put($source, $trial, $name, $value, $builder);
            }
            if (Chosen::isOData($file->document)) {
                $metadata->read($source, $trial, $builder);
            }
            $store->publish($source, $builder);
            $this->fill(Source::query()->findOrFail($source->id), $trial, $builder, $tries, $runs, $refresh);
        }
        foreach (['loans-desk' => 'loans', 'stores' => 'positions'] as $source => $endpoint) {
            ChangeRight::query()->create(['endpoint_id' => Endpoint::query()->where('slug', $endpoint)->whereHas('source', static fn ($of) => $of->where('slug', $source))->value('id'), 'environment_id' => $trial->id, 'role' => Role::Analyst]);
            ChangeRight::query()->create(['endpoint_id' => Endpoint::query()->where('slug', $endpoint)->whereHas('source', static fn ($of) => $of->where('slug', $source))->value('id'), 'environment_id' => $trial->id, 'role' => Role::Builder]);
        }
        $this->handOut($builder, $trial, app(FeedBook::class));
        SavedQuery::query()->create(['user_id' => User::query()->where('role', Role::Analyst)->value('id'), 'name' => 'Cover by borrower', 'description' => 'What each borrower has out, and what it is insured for.', 'labels' => ['loans'], 'sql' => (string) file_get_contents(database_path('demo/cover-by-borrower.sql'))]);
    }

    /**
     * A feed, and somebody who could read it with a key.
     */
    private function handOut(User $builder, Environment $environment, FeedBook $book): void
    {
        $table = KeptTable::query()->where(['environment_id' => $environment->id, 'name' => 'loans'])->first();
        if ($table === null) {
            return;
        }
        $feed = $book->draft($table, $builder);
        $shown = ['loan_id', 'ref', 'house', 'borrower', 'town', 'due', 'cover'];
        try {
            $book->change($feed, ['name' => 'loans-open', 'title' => 'Open loans', 'about' => 'What is out of the houses now, and until when.', 'condition' => "status eq 'open'", 'columns' => array_values(array_filter($feed->columns, static fn (array $column): bool => in_array($column['column'], $shown, true)))], $builder);
            $book->publish($feed, $builder);
        } catch (CannotPublish $cannot) {
            $this->warn("loans-open: {$cannot->getMessage()}");
        }
        Consumer::query()->create(['user_id' => $builder->id, 'name' => 'Courier planning', 'purpose' => 'Says each Monday which loans a courier has to fetch.'])->feeds()->attach($feed);
    }

    /**
     * @param  list<string>  $lines  for the one who started it
     */
    private function tell(array $lines): void
    {
        foreach ($lines as $line) {
            $this->line($line);
        }
    }

    private function fill(Source $source, Environment $environment, User $builder, Tries $tries, Runs $runs, Refresh $refresh): void
    {
        $file = $source->published() ?? throw new \LogicException('It was just published.');
        foreach ($source->endpoints as $endpoint) {
            $definition = $file->endpoint($endpoint->slug);
            if ($definition === null || $definition->does()->writes()) {
                continue;
            }
            $try = $tries->endpoint($endpoint, $file, $definition, $environment, $builder);
            // What is asked for each row of another table takes its time, and is left to whoever wants it.
            $isLookup = array_filter($definition->endpoint['keep']['inputs'] ?? [], RowInputs::isOne(...)) !== [];
            if ($try->succeeded && $definition->plan() !== null && ! $isLookup) {
                $run = $refresh->run($runs->ask($endpoint, $environment, $builder));
                if ($run->state !== RunState::Done) {
                    $this->warn("{$endpoint->name}: ".($run->diagnosis['what'] ?? 'not kept'));
                }
            }
        }
    }
}
