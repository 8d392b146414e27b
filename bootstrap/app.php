<?php

declare(strict_types=1);

use App\Http\Middleware\EnvironmentInHand;
use App\Http\Middleware\SecurityHeaders;
use App\Secrets\UnreadableSecret;
use Illuminate\Console\Scheduling\Schedule;
use Illuminate\Foundation\Application;
use Illuminate\Foundation\Configuration\Exceptions;
use Illuminate\Foundation\Configuration\Middleware;
use Illuminate\Http\Middleware\HandleCors;

// What a function was called with may be a secret, and has no place in a log.
ini_set('zend.exception_ignore_args', '1');

return Application::configure(basePath: dirname(__DIR__))
    ->withRouting(web: __DIR__.'/../routes/web.php')
    ->withMiddleware(function (Middleware $middleware): void {
        $middleware->remove(HandleCors::class);
        $middleware->prepend(SecurityHeaders::class);
        $middleware->web(append: [EnvironmentInHand::class]);
        $middleware->redirectGuestsTo(fn () => route('sign-in'));
        $middleware->redirectUsersTo(fn () => route('watershed'));
        $middleware->trimStrings(except: [fn ($request) => $request->is('sources/*', 'queries*')]);
        $middleware->convertEmptyStringsToNull(except: [fn ($request) => true]);
    })
    ->withSchedule(function (Schedule $schedule): void {
        $schedule->command('spring:tidy')->everyFiveMinutes()->withoutOverlapping();
        $schedule->call(static fn () => app(\App\Runs\Runs::class)->rescue())->name('rescue')->everyTenSeconds();
    })
    ->withExceptions(function (Exceptions $exceptions): void {
        // The key file is gone or another: nothing that needs a secret works, and everybody is told so.
        $exceptions->render(fn (UnreadableSecret $unreadable) => response()->view('errors.503', ['reason' => $unreadable->getMessage()], 503));
        $exceptions->dontFlash(['password', 'secret', 'secrets', 'token']);
    })
    ->create();
