<?php

declare(strict_types=1);

namespace App\Http\Environments;

use App\Environments\EnvironmentRefused;
use App\Environments\Environments;
use App\Http\Controller;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Source;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Validation\ValidationException;

/**
 * The environments of the workspace, each with a schema of its own for kept tables.
 */
final class EnvironmentsController extends Controller
{
    public function index(): View
    {
        $this->authorize('viewAny', Source::class);
        $addresses = [];
        foreach (Source::described()->orderBy('name')->get() as $source) {
            foreach ($source->current()->source()->environments() as $slug) {
                $addresses[$slug][] = $source;
            }
        }

        return view('environments', ['all' => Environment::query()->orderBy('position')->get(), 'addresses' => $addresses, 'tables' => KeptTable::query()->selectRaw('environment_id, count(*) as tables')->groupBy('environment_id')->pluck('tables', 'environment_id')]);
    }

    public function store(Environments $environments): RedirectResponse
    {
        return $this->change('name', fn () => $environments->add($this->text('name')));
    }

    public function update(Environment $environment, Environments $environments): RedirectResponse
    {
        return $this->change('environment', fn () => $environments->rename($environment, $this->text('name')));
    }

    public function destroy(Environment $environment, Environments $environments): RedirectResponse
    {
        return $this->change('environment', fn () => $environments->remove($environment));
    }

    /**
     * @param  \Closure(): mixed  $change
     */
    private function change(string $field, \Closure $change): RedirectResponse
    {
        $this->authorize('create', Source::class);
        try {
            $change();
        } catch (EnvironmentRefused $refused) {
            throw ValidationException::withMessages([$field => $refused->getMessage()]);
        }

        return redirect()->route('environments.index');
    }
}
