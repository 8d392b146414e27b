<?php

declare(strict_types=1);

namespace App\Http\Lookups;

use App\Http\Controller;
use App\Models\Endpoint;
use App\Models\KeptTable;
use App\Models\Source;
use App\Pipeline\LookupSettings;
use App\Reservoir\KeepFailed;
use App\Reservoir\TableRows;
use App\Runs\LookupEstimate;
use App\Runs\LookupRows;
use App\Runs\Runs;
use App\Runs\TableNames;
use App\Runs\Tries;
use App\Sources\SourceStore;
use DeepSpring\Ask\InvalidInput;
use DeepSpring\Ask\RowInputs;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;

/**
 * One request for each row of a table: what is bound to what, tried on five rows, and what all of them would take.
 */
final class LookupController extends Controller
{
    /** Rows that are tried. */
    private const TRIED = 5;

    /** Rows whose values are looked at. */
    private const SEEN = 40;

    public function __construct(private readonly TableRows $rows)
    {
    }

    public function show(Source $source, Endpoint $endpoint): View
    {
        $this->authorize('view', $source);
        $definition = $this->definition($source, $endpoint);

        return $this->page($source, $endpoint, $definition, []);
    }

    public function update(Source $source, Endpoint $endpoint, SourceStore $store): RedirectResponse
    {
        $this->authorize('update', $source);
        $back = redirect()->route('endpoints.lookup', [$source, $endpoint]);
        $isGivenUp = $this->text('do') === 'none';
        $table = $this->table($this->text('table'));
        if ($table === null && ! $isGivenUp) {
            return $back->withErrors(['table' => 'Choose the table whose rows are asked for.']);
        }
        $form = new LookupForm((array) request()->input());
        try {
            $store->edit($source, $this->person(), static function (array $document) use ($endpoint, $form, $table): array {
                foreach ($document['endpoints'] as $number => $one) {
                    if ($one['slug'] === $endpoint->slug) {
                        $document['endpoints'][$number] = $table === null ? LookupForm::none($one) : $form->apply($one, $table);
                    }
                }

                return $document;
            });
        } catch (InvalidSourceFile $invalid) {
            return $back->withInput()->withErrors(['lookup' => array_map(static fn (Fault $fault): string => ucfirst($fault->message), $invalid->faults)]);
        }

        return $back->with('notice', $isGivenUp ? 'It is read as one list again, in the draft.' : 'Kept in the draft. It counts once the source is published.');
    }

    /**
     * Sends the request of some rows. Nothing is kept but the evidence.
     */
    public function try(Source $source, Endpoint $endpoint, Tries $tries): View
    {
        $this->authorize('update', $source);
        $definition = $this->definition($source, $endpoint);
        try {
            $settings = LookupSettings::of($definition, $definition->plan());
            if ($settings === null) {
                return $this->page($source, $endpoint, $definition, ['cannot' => 'Bind at least one input to a column, and keep that in the draft.']);
            }
            $rows = LookupRows::of($this->rows, $settings, $this->environment());
            [$try, $batch] = $tries->rows($endpoint, $source->current(), $definition, $settings, $rows->read(most: self::TRIED), $this->environment(), $this->person());
        } catch (InvalidInput|KeepFailed $failed) {
            return $this->page($source, $endpoint, $definition, ['cannot' => $failed->getMessage()]);
        }

        return $this->page($source, $endpoint, $definition, ['try' => $try->load('exchanges'), 'batch' => $batch]);
    }

    /**
     * All rows, by what is published then.
     */
    public function keep(Source $source, Endpoint $endpoint, SourceStore $store, Runs $runs): RedirectResponse
    {
        $this->authorize('update', $source);
        $file = $source->current();
        $flatten = $this->definition($source, $endpoint)->endpoint['flatten'] ?? null;
        $taken = $flatten === null ? ['Choose what becomes of the answer first, under Flatten on the sheet.'] : array_values((new TableNames($endpoint, $file))->keptElsewhere($flatten, $this->environment()));
        if ($taken !== []) {
            return redirect()->route('endpoints.lookup', [$source, $endpoint])->withErrors(['keep' => $taken]);
        }
        if ($source->draft() !== null) {
            $store->publish($source, $this->person());
        }

        return redirect()->route('runs.show', $runs->queue($endpoint->refresh()->load('source'), $this->environment(), $this->person()));
    }

    /**
     * @param  array<string, mixed>  $happened
     */
    private function page(Source $source, Endpoint $endpoint, EndpointDefinition $definition, array $happened): View
    {
        $tables = KeptTable::query()->where('environment_id', $this->environment()->id)->where('is_view', false)->where('endpoint_id', '!=', $endpoint->id)->orderBy('name')->get();
        $bound = $this->bound($definition);
        $table = $this->table($this->text('table')) ?? $this->table($bound === null ? '' : $bound->table) ?? ($tables->count() === 1 ? $tables->first() : null);

        return view('lookups.show', $happened + [
            'source' => $source, 'endpoint' => $endpoint, 'definition' => $definition, 'tables' => $tables, 'page' => new LookupPage($definition, $table, $table === null ? [] : $this->seen($table)),
            'isDraft' => $source->draft() !== null, 'estimate' => $bound === null ? null : $this->estimate($source, $endpoint, $definition), 'try' => null, 'batch' => null, 'cannot' => null, 'tried' => self::TRIED,
        ]);
    }

    private function bound(EndpointDefinition $definition): ?RowInputs
    {
        try {
            return RowInputs::of($definition->endpoint['keep']['inputs'] ?? []);
        } catch (InvalidInput) {
            return null;
        }
    }

    private function estimate(Source $source, Endpoint $endpoint, EndpointDefinition $definition): LookupEstimate|string
    {
        try {
            $settings = LookupSettings::of($definition, $definition->plan());

            return $settings === null ? 'Nothing is bound.' : LookupEstimate::of($this->rows, $settings, $endpoint, $definition, $source->current()->source()->pace, $this->environment());
        } catch (InvalidInput|KeepFailed $failed) {
            return $failed->getMessage();
        }
    }

    /**
     * Some values of each column, as they would be sent.
     *
     * @return array<string, array{type: string, values: list<string>}>
     */
    private function seen(KeptTable $table): array
    {
        $columns = array_values(array_filter($table->keptColumns(), static fn (object $column): bool => $column->mask === 'none' && $column->type !== 'json'));
        $seen = array_fill_keys(array_column($columns, 'given'), null);
        foreach ($columns as $column) {
            $seen[$column->given] = ['type' => $column->type, 'values' => []];
        }
        try {
            foreach ($this->rows->read($table, array_column($columns, 'name')) as $number => [$values]) {
                if ($number >= self::SEEN) {
                    break;
                }
                foreach ($columns as $place => $column) {
                    $value = RowInputs::written($values[$place], $column->type);
                    if ($value !== null && $value !== '' && ! in_array($value, $seen[$column->given]['values'], true)) {
                        $seen[$column->given]['values'][] = $value;
                    }
                }
            }
        } catch (KeepFailed) {
            return [];
        }

        return array_filter($seen);
    }

    private function table(string $name): ?KeptTable
    {
        return $name === '' ? null : KeptTable::query()->where('environment_id', $this->environment()->id)->where('name', $name)->first();
    }

    private function definition(Source $source, Endpoint $endpoint): EndpointDefinition
    {
        return $source->current()->endpoint($endpoint->slug) ?? abort(404);
    }
}
