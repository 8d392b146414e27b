<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use App\Models\Environment;
use App\Models\Note;
use App\Models\User;
use App\View\Moments;
use Closure;
use Illuminate\Contracts\Container\Container;
use Illuminate\Contracts\View\View;
use Illuminate\Http\Request;
use Symfony\Component\HttpFoundation\Response;

/**
 * The environment that this person works in, for controllers and views.
 */
final class CurrentEnvironment
{
    public function __construct(private readonly Container $app)
    {
    }

    /**
     * @param  Closure(Request): Response  $next
     */
    public function handle(Request $request, Closure $next): Response
    {
        $user = $request->user();
        if ($user instanceof User) {
            $environment = $user->environment ?? Environment::query()->orderBy('position')->firstOrFail();
            $request->attributes->set(Environment::class, $environment);
            $this->app->instance(Moments::class, new Moments($user->zone, $user->dates, $user->numbers));
            view()->composer('layouts.app', static fn (View $view): View => $view->with('openNotes', Note::open($environment, $user->role)->toBase()->getCountForPagination()));
            view()->share('environment', $environment);
            view()->share('environments', Environment::query()->orderBy('position')->get());
        }

        return $next($request);
    }
}
