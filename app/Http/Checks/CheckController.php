<?php

declare(strict_types=1);

namespace App\Http\Checks;

use App\Http\Controller;
use App\Models\Endpoint;
use App\Models\KeptTable;
use App\Models\Source;
use App\Runs\TriedChecks;
use App\Sources\SourceStore;
use DeepSpring\Check\Checks;
use DeepSpring\Check\TableCheck;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;

/**
 * The checks of an endpoint: what is asked of its rows, and how the rows that are there keep it.
 */
final class CheckController extends Controller
{
    public function show(Source $source, Endpoint $endpoint): View
    {
        $this->authorize('view', $source);
        $definition = $this->definition($source, $endpoint);
        $typed = old('checks');

        return view('checks.show', [
            'source' => $source, 'endpoint' => $endpoint, 'name' => $definition->name, 'plan' => $definition->plan(), 'page' => new CheckPage($definition, $definition->plan(), is_array($typed) ? $typed : null),
            'isTyped' => is_array($typed), 'kinds' => Checks::family()->titles(), 'acts' => TableCheck::WORDS, 'isDraft' => $source->draft() !== null,
            'kept' => KeptTable::query()->where('endpoint_id', $endpoint->id)->where('environment_id', $this->environment()->id)->where('is_branch', false)->first(),
        ]);
    }

    /**
     * What they find in the rows that are kept; slow where there are many.
     */
    public function tried(Source $source, Endpoint $endpoint, TriedChecks $checks): View
    {
        $this->authorize('view', $source);
        $definition = $this->definition($source, $endpoint);
        $plan = $definition->plan();

        return view('checks.tried', [
            'source' => $source, 'endpoint' => $endpoint, 'tried' => $plan === null ? 'The endpoint has no columns yet.' : $checks->try($endpoint, $definition, $plan, $this->environment()),
            'proposals' => $plan === null ? [] : $checks->proposals($endpoint, $definition, $plan, $this->environment()), 'plan' => $plan,
        ]);
    }

    public function update(Source $source, Endpoint $endpoint, SourceStore $store): RedirectResponse
    {
        $this->authorize('update', $source);
        $rows = request()->input('checks');
        $rows = is_array($rows) ? array_values(array_filter($rows, is_array(...))) : [];
        $do = $this->text('do');
        $back = redirect()->route('endpoints.checks', [$source, $endpoint]);
        if ($do === 'add') {
            $rows[] = ['kind' => $this->text('kind'), 'table' => $this->text('table'), 'on' => TableCheck::STOP, 'was' => ''];

            return $back->withInput(['checks' => $rows])->with('added', count($rows) - 1);
        }
        if (preg_match('/^remove (\d{1,4})$/D', $do, $part) === 1) {
            array_splice($rows, (int) $part[1], 1);
        }
        $proposed = json_decode($this->text('proposal'), true);
        try {
            $store->edit($source, $this->person(), function (array $document) use ($endpoint, $rows, $do, $proposed): array {
                foreach ($document['endpoints'] as $number => $one) {
                    if ($one['slug'] === $endpoint->slug) {
                        $document['endpoints'][$number] = $this->changed($one, $rows, $do === 'use' && is_array($proposed) ? $proposed : null);
                    }
                }

                return $document;
            });
        } catch (InvalidSourceFile $invalid) {
            return $back->withInput(['checks' => $rows])->withErrors(array_merge_recursive(...array_map(self::placed(...), $invalid->faults)));
        } catch (ChecksChanged $changed) {
            return $back->withInput(['checks' => $rows])->withErrors(['checks' => $changed->getMessage()]);
        }

        return $back->with('notice', 'Kept in the draft. It counts once the source is published.');
    }

    /**
     * @param  array<string, mixed>  $endpoint
     * @param  list<array<array-key, mixed>>  $rows
     * @param  array<array-key, mixed>|null  $proposed
     * @return array<string, mixed>
     *
     * @throws ChecksChanged
     */
    private function changed(array $endpoint, array $rows, ?array $proposed): array
    {
        $was = $endpoint['keep']['checks'] ?? [];
        if ($this->text('insist') !== '1' && CheckPage::mark($was) !== $this->text('seen')) {
            throw new ChecksChanged;
        }
        $main = $endpoint['flatten']['table'] ?? '';
        $checks = array_map(static fn (array $one): array => ($one['table'] ?? '') === $main && $main !== '' ? array_diff_key($one, ['table' => 1]) : $one, CheckForm::read($rows, $was));
        $checks = $proposed === null ? $checks : [...$checks, $proposed];
        $keep = array_diff_key($endpoint['keep'] ?? [], ['checks' => 1]) + ($checks === [] ? [] : ['checks' => $checks]);

        return $keep === [] ? array_diff_key($endpoint, ['keep' => 1]) : ['keep' => $keep] + $endpoint;
    }

    /**
     * @return array<string, list<string>> by the field of the form
     */
    private static function placed(Fault $fault): array
    {
        $place = preg_match('/keep\.checks\[(\d+)\](?:\.(?:rows\.)?(\w+))?/', $fault->path, $part) === 1 ? "check-$part[1]" : 'checks';

        return [$place => [ucfirst($fault->message)]];
    }

    private function definition(Source $source, Endpoint $endpoint): EndpointDefinition
    {
        return $source->current()->endpoint($endpoint->slug) ?? abort(404);
    }
}
