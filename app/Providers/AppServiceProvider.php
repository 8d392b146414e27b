<?php

declare(strict_types=1);

namespace App\Providers;

use App\Audit\AuditLog;
use App\Changes\ChangeSets;
use App\Changes\ReadAgain;
use App\Models\Consumer;
use App\Models\Feed;
use App\Models\Role;
use App\Models\Run;
use App\Models\SavedQuery;
use App\Models\Source;
use App\Models\User;
use App\Notes\CauseFinder;
use App\Notes\Causes\AgeingTables;
use App\Notes\Causes\BrokenChecks;
use App\Notes\Causes\BrokenViews;
use App\Notes\Causes\ChangedRecords;
use App\Notes\Causes\DoubtfulRows;
use App\Notes\Causes\EndingSecrets;
use App\Notes\Causes\FailedRefreshes;
use App\Notes\Causes\FaultyFeeds;
use App\Notes\Causes\PausedSources;
use App\Notes\Causes\RefusedSources;
use App\Notes\NoteBook;
use App\OData\ServiceModels;
use App\Operations\RequestFigures;
use App\Outlets\DoorBook;
use App\People\People;
use App\People\Provider\Provider;
use App\People\Provider\ProviderPeople;
use App\People\SignInThrottle;
use App\Policies\ConsumerPolicy;
use App\Policies\FeedPolicy;
use App\Policies\RunPolicy;
use App\Policies\SavedQueryPolicy;
use App\Policies\SourcePolicy;
use App\Queries\Keeping\KeptStatements;
use App\Queries\RunningStatements;
use App\Reservoir\DoorAccounts;
use App\Reservoir\MariaDb\MariaDbDoorAccounts;
use App\Reservoir\MariaDb\MariaDbReaderAccounts;
use App\Reservoir\MariaDb\MariaDbRowPatches;
use App\Reservoir\MariaDb\MariaDbStatementPlans;
use App\Reservoir\MariaDb\MariaDbTableHistory;
use App\Reservoir\MariaDb\MariaDbTableIndexes;
use App\Reservoir\MariaDb\MariaDbTableProfiles;
use App\Reservoir\MariaDb\MariaDbTableReader;
use App\Reservoir\MariaDb\MariaDbTableRows;
use App\Reservoir\MariaDb\MariaDbTableStore;
use App\Reservoir\MariaDb\MariaDbViews;
use App\Reservoir\ReaderAccounts;
use App\Reservoir\RowPatches;
use App\Reservoir\StatementPlans;
use App\Reservoir\TableHistory;
use App\Reservoir\TableIndexes;
use App\Reservoir\TableProfiles;
use App\Reservoir\TableReader;
use App\Reservoir\TableRows;
use App\Reservoir\TableStore;
use App\Reservoir\Views;
use App\Runs\InPlace;
use App\Runs\Runs;
use App\Runs\Statements;
use App\Secrets\Vault;
use App\Sources\KnownModels;
use App\Transport\OutboundGuard;
use App\Transport\Resolver;
use App\Transport\Transport;
use App\View\Moments;
use Illuminate\Cache\RateLimiter;
use Illuminate\Contracts\Cache\Repository;
use Illuminate\Contracts\Foundation\Application;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Migrations\Migrator;
use Illuminate\Http\Middleware\TrustProxies;
use Illuminate\Support\Facades\Gate;
use Illuminate\Support\Facades\Queue;
use Illuminate\Support\ServiceProvider;

final class AppServiceProvider extends ServiceProvider
{
    /** Seconds between two looks at runs that may be dead. */
    private const LOOK = 5.0;

    /** @var list<class-string<CauseFinder>> that find what notes are raised for */
    private const CAUSES = [FailedRefreshes::class, PausedSources::class, RefusedSources::class, BrokenChecks::class, DoubtfulRows::class, ChangedRecords::class, EndingSecrets::class, AgeingTables::class, BrokenViews::class, FaultyFeeds::class];

    public function register(): void
    {
        $this->app->singleton(Vault::class, static fn (Application $app): Vault => new Vault(base_path(config('spring.secrets_key_file')), $app->make(AuditLog::class)));
        $this->app->singleton(OutboundGuard::class, static fn (): OutboundGuard => new OutboundGuard(app(Resolver::class), config('spring.outbound.ports')));
        $this->app->singleton(Transport::class, static fn (): Transport => new Transport(app(OutboundGuard::class), config('spring.outbound.authorities')));
        $this->app->singleton(MariaDbReaderAccounts::class);
        $this->app->singleton(ReaderAccounts::class, MariaDbReaderAccounts::class);
        $this->app->singleton(RunningStatements::class);
        $this->app->bind(DoorAccounts::class, MariaDbDoorAccounts::class);
        $this->app->bind(Views::class, MariaDbViews::class);
        $this->app->bind(Statements::class, KeptStatements::class);
        $this->app->bind(TableReader::class, MariaDbTableReader::class);
        $this->app->bind(TableHistory::class, MariaDbTableHistory::class);
        $this->app->bind(TableProfiles::class, MariaDbTableProfiles::class);
        $this->app->bind(TableRows::class, MariaDbTableRows::class);
        $this->app->bind(RowPatches::class, MariaDbRowPatches::class);
        $this->app->bind(InPlace::class, ReadAgain::class);
        $this->app->bind(TableIndexes::class, MariaDbTableIndexes::class);
        $this->app->bind(StatementPlans::class, MariaDbStatementPlans::class);
        $this->app->bind(TableStore::class, static fn (Application $app): TableStore => new MariaDbTableStore($app->make('db'), base_path(config('spring.var').'/tmp')));
        $this->app->bind(KnownModels::class, ServiceModels::class);
        $this->app->bind(Moments::class, static fn (): Moments => new Moments);
        $this->app->singleton(RequestFigures::class, static fn (): RequestFigures => new RequestFigures(base_path(config('spring.var').'/tmp/requests.json')));
        $this->app->bind(NoteBook::class, static fn (Application $app): NoteBook => new NoteBook(array_map(static fn (string $finder): CauseFinder => new $finder, self::CAUSES)));
        $this->app->bind(Migrator::class, static fn (Application $app): Migrator => $app->make('migrator'));
        $this->app->singleton(Provider::class, static fn (Application $app): Provider => new Provider($app->make(Transport::class), $app->make(Repository::class), config('spring.provider')));
        $this->app->bind(ProviderPeople::class, static fn (Application $app): ProviderPeople => new ProviderPeople($app->make(People::class), $app->make(AuditLog::class), config('spring.provider')));
    }

    public function boot(): void
    {
        Model::preventLazyLoading(false);
        Model::preventSilentlyDiscardingAttributes();
        Gate::policy(Source::class, SourcePolicy::class);
        Gate::policy(SavedQuery::class, SavedQueryPolicy::class);
        Gate::policy(Run::class, RunPolicy::class);
        Gate::policy(Feed::class, FeedPolicy::class);
        Gate::policy(Consumer::class, ConsumerPolicy::class);
        Gate::define('administer', static fn (User $user): bool => $user->role === Role::Administrator);
        $this->rescueWhileWorking();
        // Only where something is limited.
        $this->callAfterResolving(RateLimiter::class, fn () => $this->app->make(SignInThrottle::class)->register());
        TrustProxies::at(config('spring.proxies'));
        // Where people come over https, so do cookies.
        config(['session.secure' => config('session.secure') ?? str_starts_with((string) config('app.url'), 'https:')]);
    }

    /**
     * Every worker looks now and then for runs whose own worker died: whoever could go on with them
     * is who notices.
     */
    private function rescueWhileWorking(): void
    {
        $looked = 0.0;
        Queue::looping(static function () use (&$looked): void {
            if (microtime(true) - $looked < self::LOOK) {
                return;
            }
            $looked = microtime(true);
            try {
                app(Runs::class)->rescue();
                ChangeSets::rescue();
                app(DoorBook::class)->align();
            } catch (\PDOException) {
                // The database is away; there will be another look.
            }
        });
    }
}
