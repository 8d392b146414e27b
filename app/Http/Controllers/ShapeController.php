<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Http\Sheets\EndpointForm;
use App\Http\Sheets\ShapeSheet;
use App\Http\Sheets\ShapeSteps;
use App\Http\Sheets\Sheets;
use App\Models\Endpoint;
use App\Models\KeptTable;
use App\Models\SavedQuery;
use App\Models\Source;
use App\Sources\SourceStore;
use DeepSpring\Expression\Functions\Library;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Proposal\Proposer;
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
    public function __construct(private readonly Sheets $sheets)
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
        $steps = new ShapeSteps($endpoint, $this->person());
        $was = $before->definition->endpoint['flatten'] ?? [];
        try {
            $flatten = $this->step($was, $before, $steps, $endpoint);
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
                if (! in_array($this->text('do'), ['undo', 'redo'], true)) {
                    $steps->did($was);
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
        $records = ShapeSheet::sampled($endpoint, $this->definition($source->current(), $endpoint), $this->environment());
        abort_unless(array_key_exists($number, $records), 404);

        return view('shape.record', ['number' => $number, 'record' => $records[$number]]);
    }

    /**
     * @param  array<string, mixed>  $was
     * @return array<string, mixed>
     */
    private function step(array $was, ShapeSheet $sheet, ShapeSteps $steps, Endpoint $endpoint): array
    {
        $table = (int) $this->text('table');
        $column = (int) $this->text('column');
        $path = $this->text('path');
        $do = $this->text('do');
        if ($do === 'undo' || $do === 'redo') {
            return ($do === 'undo' ? $steps->undo($was) : $steps->redo($was)) ?? $was;
        }
        if ($do === 'propose' || $was === []) {
            $proposal = (new Proposer($this->text('prefix') !== 'no'))->propose($sheet->records, (string) ($was['table'] ?? str_replace('-', '_', $endpoint->slug)))->flatten;

            return $sheet->records === [] ? $was : $proposal + array_intersect_key($was, ['leave_out' => 1]);
        }
        $shaping = new Shaping($was, $sheet->records);

        return match ($do) {
            'add' => $shaping->add($path, $this->text('at') === '' ? null : (int) $this->text('at')),
            'add-leaves' => $shaping->add($path, null, true),
            'exclude' => $shaping->exclude($path),
            'move' => $shaping->move($table, $column, (int) $this->text('to')),
            'drop' => $shaping->drop($table, $column),
            'rename' => $shaping->rename($table, $column, $this->text('name')),
            'compute' => $shaping->compute($table, $this->text('name'), $this->text('expression')),
            'prefix' => $shaping->prefix($table, $this->text('with') === 'yes'),
            'split' => $shaping->split(),
            'make-key' => $shaping->makeKey($table),
            'drop-table' => $this->withoutTable($was, $table),
            'table' => $shaping->at($table, fn (array $one): array => $this->tableSettings($one)),
            'set' => $shaping->at($table, fn (array $one): array => $this->columnSettings($one, $column)),
            default => $was,
        };
    }

    /**
     * @param  array<string, mixed>  $one
     * @return array<string, mixed>
     */
    private function tableSettings(array $one): array
    {
        $one['table'] = $this->text('name') ?: $one['table'];
        $where = $this->text('where');
        unset($one['where']);

        return $where === '' ? $one : $one + ['where' => $where];
    }

    /**
     * @param  array<string, mixed>  $one
     * @return array<string, mixed>
     */
    private function columnSettings(array $one, int $number): array
    {
        $column = $one['columns'][$number] ?? null;
        if ($column === null) {
            return $one;
        }
        $changed = (new EndpointForm(['name' => 'x', 'ask' => []]))->columnOf(request()->all(), $column);
        if (request()->has('key')) {
            $key = array_values(array_diff($one['key'] ?? [], [$column['name']]));
            $chosen = [...$key, ...($this->text('key') === '1' ? [$column['name']] : [])];
            // In the order of the columns, which is how people read them.
            $one['key'] = array_values(array_intersect(array_column($one['columns'], 'name'), $chosen));
        }
        $one['columns'][$number] = $changed;

        return $one;
    }

    /**
     * @param  array<string, mixed>  $was
     * @return array<string, mixed>
     */
    private function withoutTable(array $was, int $table): array
    {
        return $table === 0 ? $was : \App\Http\Sheets\FlattenTables::change($was, $table, static fn (array $one): ?array => null);
    }

    /**
     * @param  array{rows: array<string, int>, rejected: int, filtered: int}|null  $before
     * @return array<string, mixed>
     */
    private function seen(Source $source, Endpoint $endpoint, SourceFile $file, ?array $before = null): array
    {
        $sheet = $this->sheets->shape($endpoint, $file, $this->definition($file, $endpoint), $this->environment());
        [$undo, $redo] = (new ShapeSteps($endpoint, $this->person()))->count();

        return ['source' => $source, 'sheet' => $sheet, 'before' => $before, 'undo' => $undo, 'redo' => $redo, 'lost' => $this->lost($endpoint, $sheet)];
    }

    /**
     * Columns of kept tables that the plan in hand has no more, and the queries that may read them.
     *
     * @return list<array{column: string, queries: list<string>}>
     */
    private function lost(Endpoint $endpoint, ShapeSheet $sheet): array
    {
        $now = [];
        foreach ($sheet->plan?->tables() ?? [] as $table) {
            $shape = new \App\Reservoir\TableShape($table);
            $now[$shape->name] = array_column($shape->columns, 'name');
        }
        $lost = [];
        $queries = SavedQuery::query()->get(['name', 'sql']);
        foreach (KeptTable::query()->where('endpoint_id', $endpoint->id)->where('environment_id', $this->environment()->id)->get() as $table) {
            foreach (array_diff(array_column($table->columns, 'name'), $now[$table->name] ?? []) as $column) {
                $reading = $queries->filter(static fn (SavedQuery $query): bool => preg_match('/(?<![\w$])'.preg_quote($table->name, '/').'(?![\w$])/i', $query->sql) === 1 && preg_match('/(?<![\w$])'.preg_quote($column, '/').'(?![\w$])|\*/i', $query->sql) === 1);
                $lost[] = ['column' => "$table->name.$column", 'queries' => array_values($reading->pluck('name')->all())];
            }
        }

        return $lost;
    }

    private function definition(SourceFile $file, Endpoint $endpoint): EndpointDefinition
    {
        return $file->endpoint($endpoint->slug) ?? abort(404);
    }
}
