<?php

declare(strict_types=1);

namespace App\Http\Middleware;

use App\Models\Environment;
use App\Models\User;
use App\View\Moments;
use Closure;
use Illuminate\Http\Request;
use Symfony\Component\HttpFoundation\Response;

/**
 * The environment that this person works in, for controllers and views.
 */
final class CurrentEnvironment
{
    /**
     * @param  Closure(Request): Response  $next
     */
    public function handle(Request $request, Closure $next): Response
    {
        $user = $request->user();
        if ($user instanceof User) {
            $environment = $user->environment ?? Environment::query()->orderBy('position')->firstOrFail();
            app()->instance(Environment::class, $environment);
            app()->instance(Moments::class, new Moments($user->zone, $user->dates, $user->numbers));
            view()->share('environment', $environment);
            view()->share('environments', Environment::query()->orderBy('position')->get());
        }

        return $next($request);
    }
}
