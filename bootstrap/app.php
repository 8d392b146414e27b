<?php

declare(strict_types=1);

use App\Http\Middleware\CurrentEnvironment;
use App\Http\Middleware\KnownHost;
use App\Http\Middleware\OwnReferer;
use App\Http\Middleware\RequestMark;
use App\Http\Middleware\SecurityHeaders;
use App\Http\Middleware\SessionIsOpen;
use App\Http\Middleware\WholeRequest;
use App\Secrets\UnreadableSecret;
use Illuminate\Console\Scheduling\Schedule;
use Illuminate\Contracts\Auth\Middleware\AuthenticatesRequests;
use Illuminate\Foundation\Application;
use Illuminate\Foundation\Configuration\Exceptions;
use Illuminate\Foundation\Configuration\Middleware;
use Illuminate\Http\Middleware\HandleCors;
use Illuminate\Http\Request;
use Symfony\Component\Console\Exception\ExceptionInterface;

// What a function was called with may be a secret, and has no place in a log.
ini_set('zend.exception_ignore_args', '1');

return Application::configure(basePath: dirname(__DIR__))
    ->withRouting(web: __DIR__.'/../routes/web.php')
    ->withMiddleware(function (Middleware $middleware): void {
        $middleware->remove(HandleCors::class);
        $middleware->prepend([SecurityHeaders::class, RequestMark::class, WholeRequest::class]);
        $middleware->append([KnownHost::class, OwnReferer::class]);
        // Whoever stands in front of us says who asked, where the settings name it.
        $middleware->trustProxies(headers: Request::HEADER_X_FORWARDED_FOR | Request::HEADER_X_FORWARDED_HOST | Request::HEADER_X_FORWARDED_PORT | Request::HEADER_X_FORWARDED_PROTO);
        $middleware->web(append: [CurrentEnvironment::class]);
        $middleware->alias(['open' => SessionIsOpen::class]);
        // Before anything is looked up that an address names, so that nobody learns what is there.
        $middleware->appendToPriorityList(AuthenticatesRequests::class, SessionIsOpen::class);
        $middleware->redirectGuestsTo(fn () => route('sign-in'));
        $middleware->redirectUsersTo(fn () => route('watershed'));
        $middleware->trimStrings(except: [fn ($request) => $request->is('sources/*', 'queries*')]);
        $middleware->convertEmptyStringsToNull(except: [fn ($request) => true]);
    })
    ->withSchedule(function (Schedule $schedule): void {
        $schedule->command('spring:tidy')->everyFiveMinutes()->withoutOverlapping(30);
        $schedule->call(static fn () => app(\App\Operations\Clock::class)->right())->name('clock')->everyMinute();
        $schedule->call(static fn () => app(\App\Runs\Runs::class)->rescue())->name('rescue')->everyTenSeconds();
        $schedule->call(static fn () => app(\App\Schedules\Scheduler::class)->tick())->name('refreshes')->everyTenSeconds();
        $schedule->call(static function (): void {
            app(\App\Notes\NoteBook::class)->alignAll();
            app(\App\Notes\Announcer::class)->announce();
        })->name('notes')->everyTenSeconds();
        // In a process of its own: an address that does not answer keeps nothing else waiting.
        $schedule->command('spring:deliver')->everyTenSeconds()->when(static fn (): bool => \App\Notes\Sender::isAnythingDue())->withoutOverlapping(3)->runInBackground();
        $schedule->command('spring:files')->everyTenSeconds()->when(static fn (): bool => \App\Outlets\FilesAhead::isAnythingDue())->withoutOverlapping(10)->runInBackground();
        $schedule->command('spring:profile --due')->everyMinute()->when(static fn (): bool => \App\Runs\ProfileBook::isAnythingDue())->withoutOverlapping(10)->runInBackground();
    })
    ->withExceptions(function (Exceptions $exceptions): void {
        // The key file is gone or another: nothing that needs a secret works, and everybody is told so.
        $exceptions->render(fn (UnreadableSecret $unreadable) => response()->view('errors.503', ['reason' => $unreadable->getMessage()], 503));
        // Wrong words on the command line are answered there, and are no fault.
        $exceptions->dontReport([ExceptionInterface::class]);
        $exceptions->dontFlash(['password', 'again', 'current', 'code', 'secret', 'secrets', 'secret_value', 'token']);
    })
    ->create();
