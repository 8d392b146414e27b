<?php

declare(strict_types=1);

namespace App\Http\Shaping;

use App\Evidence\SampledRecords;
use App\Http\Controller;
use App\Http\Editing\Asked;
use App\Models\Endpoint;
use App\Models\Source;
use App\Sources\SourceStore;
use DeepSpring\Expression\Functions\Library;
use DeepSpring\Flatten\Shaping;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Contracts\View\View;
use Illuminate\Http\Request;
use Illuminate\Http\Response;

/**
 * Shaping what records become, with fields and rows in view.
 */
final class ShapeController extends Controller
{
    public function __construct(private readonly ShapeSheets $sheets)
    {
    }

    public function show(Source $source, Endpoint $endpoint): View
    {
        $this->authorize('view', $source);

        return view('shape.show', $this->seen($source, $endpoint, $source->current()) + ['functions' => (new Library(new \DateTimeImmutable))->groups()]);
    }

    /**
     * One step. What cannot be done is said, and nothing is changed.
     */
    public function update(Request $request, Source $source, Endpoint $endpoint, SourceStore $store): View|Response
    {
        $this->authorize('update', $source);
        $before = $this->sheets->shape($endpoint, $source->current(), $this->definition($source->current(), $endpoint), $this->environment());
        $history = new ShapeHistory($endpoint, $this->person());
        $was = $before->definition->endpoint['flatten'] ?? [];
        try {
            $form = new ShapeForm(new Asked($request), $request->all());
            $flatten = $form->apply($was, $before->page->written(), str_replace('-', '_', $endpoint->slug), $history);
            $file = $source->current();
            if ($flatten !== $was) {
                $file = $store->edit($source, $this->person(), static function (array $document) use ($endpoint, $flatten): array {
                    foreach ($document['endpoints'] ?? [] as $number => $one) {
                        if ($one['slug'] === $endpoint->slug) {
                            $document['endpoints'][$number] = $flatten === [] ? array_diff_key($one, ['flatten' => 1]) : ['flatten' => $flatten] + $one;
                        }
                    }

                    return $document;
                });
                if ($form->step?->isOfHistory() !== true) {
                    $history->did($was);
                }
            }
        } catch (InvalidSourceFile $invalid) {
            $sentences = array_map(static fn (Fault $fault): string => ucfirst($fault->message), $invalid->faults);

            return response(view('shape.fault', ['sentences' => $sentences]))->header('HX-Reswap', 'none');
        }

        return view('shape.bench', $this->seen($source->refresh(), $endpoint, $file, $before->counts()));
    }

    /**
     * The record that a row was made from.
     */
    public function record(Request $request, Source $source, Endpoint $endpoint): View
    {
        $this->authorize('view', $source);
        $number = $request->integer('record');
        $records = SampledRecords::of($endpoint, $this->definition($source->current(), $endpoint), $this->environment())->values;
        abort_unless(array_key_exists($number, $records), 404);

        return view('shape.record', ['number' => $number, 'record' => $records[$number]]);
    }

    /**
     * @param  array{rows: array<string, int>, rejected: int, filtered: int}|null  $before
     * @return array<string, mixed>
     */
    private function seen(Source $source, Endpoint $endpoint, SourceFile $file, ?array $before = null): array
    {
        $sheet = $this->sheets->shape($endpoint, $file, $this->definition($file, $endpoint), $this->environment());
        [$undo, $redo] = (new ShapeHistory($endpoint, $this->person()))->count();

        return ['source' => $source, 'sheet' => $sheet, 'before' => $before, 'undo' => $undo, 'redo' => $redo, 'lost' => LostColumns::of($sheet)];
    }

    private function definition(SourceFile $file, Endpoint $endpoint): EndpointDefinition
    {
        return $file->endpoint($endpoint->slug) ?? abort(404);
    }
}
