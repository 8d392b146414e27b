<?php

declare(strict_types=1);

namespace App\Providers;

use App\Models\Role;
use App\Models\Run;
use App\Models\SavedQuery;
use App\Models\Source;
use App\Models\User;
use App\Policies\RunPolicy;
use App\Policies\SavedQueryPolicy;
use App\Policies\SourcePolicy;
use App\Reservoir\ReaderAccounts;
use App\Runs\Runs;
use App\Secrets\Vault;
use App\Transport\OutboundGuard;
use App\Transport\Resolver;
use App\Transport\Transport;
use Illuminate\Cache\RateLimiting\Limit;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Http\Request;
use Illuminate\Support\Facades\Gate;
use Illuminate\Support\Facades\Queue;
use Illuminate\Support\Facades\RateLimiter;
use Illuminate\Support\ServiceProvider;

final class AppServiceProvider extends ServiceProvider
{
    /** Seconds between two looks at runs that may be dead. */
    private const LOOK = 5.0;

    public function register(): void
    {
        $this->app->singleton(Vault::class, static fn (): Vault => new Vault(base_path(config('spring.secrets_key_file'))));
        $this->app->singleton(OutboundGuard::class, static fn (): OutboundGuard => new OutboundGuard(app(Resolver::class), config('spring.outbound.ports')));
        $this->app->singleton(Transport::class, static fn (): Transport => new Transport(app(OutboundGuard::class), config('spring.outbound.authorities')));
        $this->app->singleton(ReaderAccounts::class);
    }

    /**
     * By which failed attempts to sign in are counted.
     */
    public static function signInKey(Request $request): string
    {
        return 'name '.mb_strtolower((string) $request->input('email')).' '.$request->ip();
    }

    public function boot(): void
    {
        Model::preventLazyLoading(false);
        Model::preventSilentlyDiscardingAttributes();
        Gate::policy(Source::class, SourcePolicy::class);
        Gate::policy(SavedQuery::class, SavedQueryPolicy::class);
        Gate::policy(Run::class, RunPolicy::class);
        Gate::define('administer', static fn (User $user): bool => $user->role === Role::Administrator);
        $this->rescueWhileWorking();
        RateLimiter::for('sign-in', static fn (Request $request): array => [
            Limit::perMinute(5)->by(self::signInKey($request)),
            Limit::perMinute(30)->by('address '.$request->ip()),
        ]);
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
            } catch (\PDOException) {
                // The database is away; there will be another look.
            }
        });
    }
}
