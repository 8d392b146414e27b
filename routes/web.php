<?php

declare(strict_types=1);

use App\Http\Controllers\CompareController;
use App\Http\Controllers\ConsentController;
use App\Http\Controllers\DriftController;
use App\Http\Controllers\EndpointController;
use App\Http\Controllers\EnvironmentController;
use App\Http\Controllers\EnvironmentsController;
use App\Http\Controllers\FindController;
use App\Http\Controllers\ImportController;
use App\Http\Controllers\OutboundController;
use App\Http\Controllers\PaceController;
use App\Http\Controllers\QueryController;
use App\Http\Controllers\RejectController;
use App\Http\Controllers\RepairController;
use App\Http\Controllers\RunController;
use App\Http\Controllers\ShapeController;
use App\Http\Controllers\SignInController;
use App\Http\Controllers\SourceController;
use App\Http\Controllers\SourceFileController;
use App\Http\Controllers\TableController;
use App\Http\Controllers\TryController;
use App\Http\Controllers\VersionController;
use App\Http\Controllers\WatershedController;
use Illuminate\Support\Facades\Route;

Route::middleware('guest')->group(function (): void {
    Route::get('/sign-in', [SignInController::class, 'show'])->name('sign-in');
    Route::post('/sign-in', [SignInController::class, 'store'])->middleware('throttle:sign-in')->name('sign-in.store');
});

Route::middleware('auth')->group(function (): void {
    Route::post('/sign-out', [SignInController::class, 'destroy'])->name('sign-out');
    Route::get('/', WatershedController::class)->name('watershed');
    Route::get('/environments', [EnvironmentsController::class, 'index'])->name('environments.index');
    Route::post('/environments', [EnvironmentsController::class, 'store'])->name('environments.store');
    Route::post('/environments/{environment:slug}', [EnvironmentsController::class, 'update'])->name('environments.update');
    Route::delete('/environments/{environment:slug}', [EnvironmentsController::class, 'destroy'])->name('environments.destroy');
    Route::get('/consent/return', [ConsentController::class, 'return'])->name('consent.return');
    Route::post('/environment', EnvironmentController::class)->name('environment');
    Route::get('/outbound', [OutboundController::class, 'index'])->name('outbound.index');
    Route::post('/outbound', [OutboundController::class, 'store'])->name('outbound.store');
    Route::delete('/outbound/{host}', [OutboundController::class, 'destroy'])->name('outbound.destroy');
    Route::get('/find', FindController::class)->name('find');

    Route::get('/sources', [SourceController::class, 'index'])->name('sources.index');
    Route::get('/sources/new', [SourceController::class, 'create'])->name('sources.create');
    Route::post('/sources', [SourceController::class, 'store'])->name('sources.store');
    Route::post('/address', [SourceController::class, 'address'])->name('address');
    Route::post('/tries/{tryout}/repair/{number}', RepairController::class)->whereNumber('number')->name('tries.repair');
    Route::get('/sources/{source}', [SourceController::class, 'show'])->name('sources.show');
    Route::post('/sources/{source}', [SourceController::class, 'update'])->name('sources.update');
    Route::delete('/sources/{source}', [SourceController::class, 'destroy'])->name('sources.destroy');
    Route::post('/sources/{source}/test', [SourceController::class, 'test'])->name('sources.test');
    Route::post('/sources/{source}/secrets', [SourceController::class, 'secret'])->name('sources.secret');
    Route::post('/sources/{source}/address', [SourceController::class, 'address'])->name('sources.address');
    Route::post('/sources/{source}/discover', [SourceController::class, 'discover'])->name('sources.discover');
    Route::post('/sources/{source}/consent', [ConsentController::class, 'begin'])->name('sources.consent');
    Route::post('/sources/{source}/consent/forget', [ConsentController::class, 'forget'])->name('sources.consent.forget');
    Route::post('/sources/{source}/pace', PaceController::class)->name('sources.pace');
    Route::post('/sources/{source}/publish', [SourceController::class, 'publish'])->name('sources.publish');
    Route::get('/sources/{source}/file', [SourceFileController::class, 'show'])->name('sources.file');
    Route::post('/sources/{source}/file', [SourceFileController::class, 'update'])->name('sources.file.update');
    Route::get('/sources/{source}/export', [SourceFileController::class, 'export'])->name('sources.export');

    Route::get('/imports/{import}', [ImportController::class, 'show'])->name('imports.show');
    Route::post('/imports/{import}', [ImportController::class, 'apply'])->name('imports.apply');
    Route::post('/sources/{source}/import', [ImportController::class, 'store'])->name('sources.import');
    Route::get('/sources/{source}/endpoints/new', [EndpointController::class, 'create'])->name('endpoints.create');
    Route::post('/sources/{source}/endpoints', [EndpointController::class, 'store'])->name('endpoints.store');
    Route::get('/sources/{source}/endpoints/{endpoint:slug}', [EndpointController::class, 'show'])->scopeBindings()->name('endpoints.show');
    Route::post('/sources/{source}/endpoints/{endpoint:slug}', [EndpointController::class, 'update'])->scopeBindings()->name('endpoints.update');
    Route::delete('/sources/{source}/endpoints/{endpoint:slug}', [EndpointController::class, 'destroy'])->scopeBindings()->name('endpoints.destroy');
    Route::post('/sources/{source}/endpoints/{endpoint:slug}/try', [EndpointController::class, 'try'])->scopeBindings()->name('endpoints.try');
    Route::get('/sources/{source}/endpoints/{endpoint:slug}/compare', [CompareController::class, 'show'])->scopeBindings()->name('endpoints.compare');
    Route::post('/sources/{source}/endpoints/{endpoint:slug}/compare', [CompareController::class, 'try'])->scopeBindings()->name('endpoints.compare.try');
    Route::post('/sources/{source}/endpoints/{endpoint:slug}/keep', [EndpointController::class, 'keep'])->scopeBindings()->name('endpoints.keep');
    Route::post('/sources/{source}/endpoints/{endpoint:slug}/prove', [EndpointController::class, 'prove'])->scopeBindings()->name('endpoints.prove');
    Route::post('/sources/{source}/endpoints/{endpoint:slug}/preview', [EndpointController::class, 'preview'])->scopeBindings()->name('endpoints.preview');
    Route::get('/sources/{source}/endpoints/{endpoint:slug}/shape', [ShapeController::class, 'show'])->scopeBindings()->name('endpoints.shape');
    Route::post('/sources/{source}/endpoints/{endpoint:slug}/shape', [ShapeController::class, 'update'])->scopeBindings()->name('endpoints.shape.update');
    Route::get('/sources/{source}/endpoints/{endpoint:slug}/shape/record', [ShapeController::class, 'record'])->scopeBindings()->name('endpoints.shape.record');
    Route::post('/sources/{source}/stop', [EndpointController::class, 'stop'])->name('endpoints.stop');
    Route::get('/sources/{source}/endpoints/{endpoint:slug}/tries', [TryController::class, 'index'])->scopeBindings()->name('endpoints.tries');
    Route::get('/sources/{source}/endpoints/{endpoint:slug}/tries/compare', [TryController::class, 'compare'])->scopeBindings()->name('tries.compare');
    Route::get('/sources/{source}/endpoints/{endpoint:slug}/sample', [TryController::class, 'sample'])->scopeBindings()->name('endpoints.sample.tree');
    Route::get('/tries/{tryout}', [TryController::class, 'show'])->whereNumber('tryout')->name('tries.show');
    Route::get('/tries/{tryout}/har', [TryController::class, 'har'])->whereNumber('tryout')->name('tries.har');
    Route::get('/tries/{tryout}/{number}/tree', [TryController::class, 'tree'])->whereNumber('number')->name('tries.tree');
    Route::get('/tries/{tryout}/{number}/raw', [TryController::class, 'raw'])->whereNumber('number')->name('tries.raw');
    Route::get('/sources/{source}/versions', [VersionController::class, 'index'])->name('sources.versions');
    Route::get('/sources/{source}/versions/compare', [VersionController::class, 'compare'])->name('sources.versions.compare');
    Route::post('/sources/{source}/versions/{version}', [VersionController::class, 'restore'])->whereNumber('version')->name('sources.versions.restore');
    Route::delete('/sources/{source}/draft', [VersionController::class, 'discard'])->name('sources.draft.discard');
    Route::get('/tries/{tryout}/{number}/body', [TryController::class, 'body'])->whereNumber('number')->name('tries.body');

    Route::get('/tables', [TableController::class, 'index'])->name('tables.index');
    Route::get('/tables/{name}', [TableController::class, 'show'])->name('tables.show');
    Route::post('/tables/{name}/refresh', [TableController::class, 'refresh'])->name('tables.refresh');

    Route::get('/queries', [QueryController::class, 'index'])->name('queries.index');
    Route::get('/queries/new', [QueryController::class, 'create'])->name('queries.create');
    Route::post('/queries/run', [QueryController::class, 'run'])->name('queries.run');
    Route::post('/queries/export', [QueryController::class, 'export'])->name('queries.export');
    Route::post('/queries', [QueryController::class, 'store'])->name('queries.store');
    Route::get('/queries/{query}', [QueryController::class, 'show'])->name('queries.show');
    Route::post('/queries/{query}', [QueryController::class, 'update'])->name('queries.update');
    Route::delete('/queries/{query}', [QueryController::class, 'destroy'])->name('queries.destroy');

    Route::get('/runs', [RunController::class, 'index'])->name('runs.index');
    Route::get('/runs/{run}', [RunController::class, 'show'])->name('runs.show');
    Route::get('/runs/{run}/progress', [RunController::class, 'progress'])->name('runs.progress');
    Route::post('/runs/{run}/stop', [RunController::class, 'stop'])->name('runs.stop');
    Route::post('/runs/{run}/go-on', [RunController::class, 'goOn'])->name('runs.go-on');
    Route::post('/runs/{run}/again', [RunController::class, 'again'])->name('runs.again');
    Route::post('/runs/{run}/rebuild', [RunController::class, 'rebuild'])->name('runs.rebuild');
    Route::get('/runs/{run}/rejects', [RejectController::class, 'index'])->name('runs.rejects');
    Route::get('/runs/{run}/rejects.csv', [RejectController::class, 'export'])->name('runs.rejects.export');
    Route::post('/drifts/{drift}', [DriftController::class, 'answer'])->name('drifts.answer');
    Route::get('/runs/{run}/exchanges/{exchange}', [RunController::class, 'exchange'])->name('runs.exchange');
});
