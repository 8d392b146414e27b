<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Source;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Illuminate\Validation\ValidationException;

/**
 * The environments of the workspace, each with a schema of its own for kept tables.
 */
final class EnvironmentsController extends Controller
{
    /** So that the name of the schema stays within what MariaDB allows. */
    private const LONGEST = 32;

    public function index(): View
    {
        $this->authorize('viewAny', Source::class);
        $environments = Environment::query()->orderBy('position')->get();
        $addresses = [];
        foreach (Source::query()->orderBy('name')->get() as $source) {
            foreach ($source->inHand()->source()->environments() as $slug) {
                $addresses[$slug][] = $source;
            }
        }

        return view('environments', ['all' => $environments, 'addresses' => $addresses, 'tables' => KeptTable::query()->selectRaw('environment_id, count(*) as tables')->groupBy('environment_id')->pluck('tables', 'environment_id')]);
    }

    public function store(): RedirectResponse
    {
        $this->authorize('create', Source::class);
        $name = $this->name(null);
        $slug = Str::slug($name);
        if ($slug === '' || strlen($slug) > self::LONGEST) {
            throw ValidationException::withMessages(['name' => 'A name has letters or digits in it, and at most '.self::LONGEST.' of them.']);
        }
        if (Environment::named($slug) !== null) {
            throw ValidationException::withMessages(['name' => "There is an environment \"$slug\" already."]);
        }
        $environment = new Environment(['slug' => $slug, 'name' => $name, 'position' => (int) Environment::query()->max('position') + 1]);
        DB::connection('keeper')->unprepared("create database if not exists `{$environment->schema()}` character set utf8mb4 collate utf8mb4_nopad_bin");
        $environment->save();

        return redirect()->route('environments.index');
    }

    public function update(Environment $environment): RedirectResponse
    {
        $this->authorize('create', Source::class);
        $environment->fill(['name' => $this->name($environment)])->save();

        return redirect()->route('environments.index');
    }

    public function destroy(Environment $environment): RedirectResponse
    {
        $this->authorize('create', Source::class);
        $kept = KeptTable::query()->where('environment_id', $environment->id)->orderBy('name')->pluck('name');
        $used = Source::query()->get()->filter(static fn (Source $source): bool => in_array($environment->slug, $source->inHand()->source()->environments(), true))->pluck('name');
        throw_if($kept->isNotEmpty(), ValidationException::withMessages(['environment' => "$environment->name still keeps ".$kept->join(', ', ' and ').'.']));
        throw_if($used->isNotEmpty(), ValidationException::withMessages(['environment' => $used->join(', ', ' and ').' still '.($used->count() === 1 ? 'has' : 'have')." an address in $environment->name."]));
        throw_if(Environment::query()->count() === 1, ValidationException::withMessages(['environment' => 'One environment has to stay.']));
        DB::connection('keeper')->unprepared("drop database if exists `{$environment->schema()}`");
        $environment->delete();

        return redirect()->route('environments.index');
    }

    private function name(?Environment $self): string
    {
        $name = mb_substr($this->word('name'), 0, 60);
        if ($name === '' || Environment::query()->where('name', $name)->when($self !== null, static fn ($query) => $query->where('id', '<>', $self?->id))->exists()) {
            throw ValidationException::withMessages([($self === null ? 'name' : 'environment') => $name === '' ? 'An environment needs a name.' : "There is an environment \"$name\" already."]);
        }

        return $name;
    }
}
