<?php

declare(strict_types=1);

namespace App\Http\Changes;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Changes\ChangeProof;
use App\Changes\ChangeTable;
use App\Http\Controller;
use App\Models\ChangeRight;
use App\Models\Endpoint;
use App\Models\KeptTable;
use App\Models\PeopleGroup;
use App\Models\Role;
use App\Models\Source;
use App\Models\User;
use App\OData\ServiceModels;
use App\Reservoir\TableReader;
use App\Sources\SourceStore;
use DeepSpring\Change\ChangePlan;
use DeepSpring\OData\Model\Model;
use DeepSpring\SourceFile\Chosen;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;
use Illuminate\Validation\ValidationException;

/**
 * How records of an endpoint are changed, who may, and the proof on a record.
 */
final class ChangeSettingsController extends Controller
{
    public function show(Source $source, Endpoint $endpoint, ServiceModels $models): View
    {
        $this->authorize('view', $source);
        $file = $source->current();
        $definition = $file->endpoint($endpoint->slug) ?? abort(404);
        $settings = $definition->plan() === null ? null : new ChangeSettings($file, $definition, $this->model($source, $file, $models));
        $plan = $settings === null ? null : ChangePlan::of($file, $endpoint->slug);
        $kept = $this->kept($endpoint);

        return view('changes.settings', [
            'source' => $source, 'endpoint' => $endpoint, 'name' => $definition->name, 'settings' => $settings, 'plan' => $plan, 'changeable' => $plan?->changeable() ?? [], 'hasKey' => ($definition->plan()->table->key ?? []) !== [],
            'kept' => $kept, 'isDraft' => $source->draft() !== null, 'groups' => PeopleGroup::query()->orderBy('name')->limit(500)->get(), 'rights' => ChangeRight::query()->with('user', 'group')->where(['endpoint_id' => $endpoint->id, 'environment_id' => $this->environment()->id])->get(),
            'people' => User::query()->whereNull('off_at')->orderBy('name')->limit(500)->get(), 'proof' => session('proof', []), 'isPublished' => $kept !== null && ChangeTable::of($kept) !== null,
        ]);
    }

    public function update(Source $source, Endpoint $endpoint, SourceStore $store, ServiceModels $models): RedirectResponse
    {
        $this->authorize('update', $source);
        $file = $source->current();
        $settings = new ChangeSettings($file, $file->endpoint($endpoint->slug) ?? abort(404), $this->model($source, $file, $models));
        $isProposed = $this->text('do') === 'propose';
        $change = $isProposed ? $settings->proposal->settings + $settings->settings : $settings->read((array) request()->input());
        $missing = $isProposed ? $settings->missing : [];
        try {
            $store->edit($source, $this->person(), static function (array $document) use ($endpoint, $change, $missing): array {
                array_push($document['endpoints'], ...$missing);
                foreach ($document['endpoints'] as $number => $one) {
                    if ($one['slug'] === $endpoint->slug) {
                        unset($one['change']);
                        $document['endpoints'][$number] = $change === [] ? $one : $one + ['change' => $change];
                    }
                }

                return $document;
            });
        } catch (InvalidSourceFile $invalid) {
            return redirect()->route('endpoints.change', [$source, $endpoint])->withInput()->withErrors(['change' => implode(' ', array_map(static fn (Fault $fault): string => preg_replace('/^.*\.change\.?/', '', $fault->path).': '.$fault->message, $invalid->faults))]);
        }

        return redirect()->route('endpoints.change', [$source, $endpoint])->with('notice', 'Kept in the draft. It counts once the source is published.');
    }

    /**
     * A right to change, given or taken back.
     */
    public function give(Source $source, Endpoint $endpoint, AuditLog $log): RedirectResponse
    {
        $this->authorize('update', $source);
        $environment = $this->environment();
        $table = $this->kept($endpoint)->name ?? $endpoint->slug;
        if ($this->text('take') !== '') {
            $right = ChangeRight::query()->with('user', 'group')->where(['endpoint_id' => $endpoint->id, 'environment_id' => $environment->id])->findOrFail((int) $this->text('take'));
            $right->delete();
            $log->note(Action::ChangeRightTaken, "$table in $environment->name", $right->who());

            return redirect()->route('endpoints.change', [$source, $endpoint])->with('notice', "Taken back from {$right->who()}.");
        }
        $role = Role::tryFrom($this->text('who'));
        $group = str_starts_with($this->text('who'), 'group ') ? PeopleGroup::query()->find((int) substr($this->text('who'), 6)) : null;
        $person = $role === null && $group === null ? User::query()->find((int) $this->text('who')) : null;
        if ($role === null && $person === null && $group === null) {
            throw ValidationException::withMessages(['who' => 'Choose who may change it.']);
        }
        $list = fn (string $name): ?array => array_values(array_filter(array_map(trim(...), explode(',', $this->text($name))))) ?: null;
        $right = ChangeRight::query()->create(['endpoint_id' => $endpoint->id, 'environment_id' => $environment->id, 'user_id' => $person?->id, 'role' => $role, 'people_group_id' => $group?->id, 'kinds' => array_values(array_filter(array_map(strval(...), (array) request()->input('kinds', [])))) ?: null, 'columns' => $list('columns'), 'actions' => $list('actions')]);
        $log->note(Action::ChangeRightGiven, "$table in $environment->name", $right->who().': '.implode(', ', $right->kinds ?? ['everything']).($right->columns === null ? '' : ', columns '.implode(', ', $right->columns)));

        return redirect()->route('endpoints.change', [$source, $endpoint])->with('notice', "{$right->who()} may change $table in $environment->name.");
    }

    public function prove(Source $source, Endpoint $endpoint, ChangeProof $proof, TableReader $reader, Request $request): RedirectResponse
    {
        $this->authorize('update', $source);
        $file = $source->current();
        $plan = ChangePlan::of($file, $endpoint->slug);
        $kept = $this->kept($endpoint);
        if ($plan === null || $kept === null) {
            throw ValidationException::withMessages(['record' => 'Say how records are changed, and keep the table first.']);
        }
        if ($this->environment()->slug === 'production') {
            throw ValidationException::withMessages(['record' => 'A proof sends a change that changes nothing. Work in Trial for that, not in Production.']);
        }
        $names = $kept->key;
        $values = array_map(trim(...), explode('·', $this->text('record')));
        $mark = count($values) === count($names) && $values[0] !== '' ? $reader->marksOf($kept, array_combine($names, $values), 1)[0] ?? null : ($this->text('record') === '' ? $reader->marksOf($kept, [], 1)[0] ?? null : null);
        if ($mark === null) {
            throw ValidationException::withMessages(['record' => 'The table has no such record.']);
        }

        return redirect()->to(route('endpoints.change', [$source, $endpoint]).'#proof')->with('proof', $proof->prove($kept, $file, $plan, $mark, $this->environment(), $this->person()));
    }

    private function model(Source $source, SourceFile $file, ServiceModels $models): ?Model
    {
        return Chosen::isOData($file->document) ? $models->of($source, $this->environment()) : null;
    }

    private function kept(Endpoint $endpoint): ?KeptTable
    {
        return KeptTable::query()->with('endpoint.source', 'environment')->where(['endpoint_id' => $endpoint->id, 'environment_id' => $this->environment()->id, 'is_branch' => false, 'is_view' => false])->first();
    }
}
