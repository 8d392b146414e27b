<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use App\Http\Controller;
use App\Http\Editing\Asked;
use App\Http\Editing\ChangedElsewhere;
use App\Http\Editing\ChangeSequence;
use App\Http\Editing\EditConflictGuard;
use App\Http\Endpoints\Step\EndpointContext;
use App\Http\Endpoints\Step\EndpointSteps;
use App\Imports\Uploads;
use App\Models\Endpoint;
use App\Models\Note;
use App\Models\Source;
use App\Sources\SourceStore;
use DeepSpring\SourceFile\DocumentComparison;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\KeptInputs;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Contracts\View\View;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Support\Facades\Cache;

/**
 * What the controllers of an endpoint's sheet share: saving what was typed, and showing the sheet.
 */
abstract class EndpointPage extends Controller
{
    protected bool $isChanged = false;

    public function __construct(protected readonly EndpointSheets $sheets)
    {
    }

    /**
     * Whether the page that waits has asked to stop.
     *
     * @return (\Closure(): bool)|null
     */
    protected function stopper(Request $request): ?\Closure
    {
        $page = explode(':', (string) $request->header('X-Sheet'))[0];
        Cache::forget("stop.$page");

        return $page === '' ? null : static fn (): bool => Cache::get("stop.$page") === true;
    }

    /**
     * @return array{SourceFile, list<Fault>}
     *
     * @throws ChangedElsewhere
     */
    protected function save(Request $request, Source $source, Endpoint $endpoint, SourceStore $store): array
    {
        $hand = EditConflictGuard::of($request);
        try {
            return [$store->edit($source, $this->person(), function (array $document) use ($request, $endpoint, $hand): ?array {
                if (ChangeSequence::of($request)?->isPast() === true) {
                    return null;
                }
                foreach ($document['endpoints'] ?? [] as $number => $one) {
                    if ($one['slug'] === $endpoint->slug) {
                        $hand?->check("endpoint.$endpoint->id", $one);
                        $file = SourceFile::trusted($document);
                        $typed = (new EndpointForm($one))->apply($request->all());
                        $changed = EndpointSteps::chosen(new Asked($request))?->apply($typed, new EndpointContext($this->sheets, $endpoint, $file, $this->environment())) ?? $typed;
                        $changed = KeptInputs::following($typed, $changed);
                        if (EditConflictGuard::mark($changed) !== EditConflictGuard::mark($one)) {
                            $document['endpoints'][$number] = $changed;
                            $this->isChanged = true;
                        }
                    }
                }

                return $document;
            }, EditConflictGuard::page($request)), []];
        } catch (InvalidSourceFile $invalid) {
            return [$source->current(), $invalid->faults];
        }
    }

    protected function conflict(Request $request, Source $source, Endpoint $endpoint, ChangedElsewhere $changed): Response
    {
        $theirs = is_array($changed->now) ? $changed->now : [];
        try {
            $mine = (new EndpointForm($theirs))->apply($request->all());
        } catch (InvalidSourceFile) {
            $mine = $theirs;
        }

        return response(view('endpoints.conflict', ['source' => $source, 'endpoint' => $endpoint, 'changed' => $changed, 'changes' => (new DocumentComparison)->of($theirs, $mine)]))->header('HX-Reswap', 'none');
    }

    /**
     * @param  list<Fault>  $faults
     */
    protected function sheet(string $view, Source $source, Endpoint $endpoint, SourceFile $file, array $faults = []): View
    {
        $source->refresh();

        return view($view, ['source' => $source, 'sheet' => $this->sheets->endpoint($endpoint, $file, $this->definition($file, $endpoint), $this->environment(), $faults)]
            + ($view === 'endpoints.show' ? ['notes' => Note::open($this->environment(), $this->person()->role)->where('endpoint_id', $endpoint->id)->get(), 'upload' => $endpoint->slug === Uploads::ENDPOINT ? Uploads::of($source, $this->environment()) : null] : []));
    }

    protected function definition(SourceFile $file, Endpoint $endpoint): EndpointDefinition
    {
        return $file->endpoint($endpoint->slug) ?? abort(404);
    }
}
