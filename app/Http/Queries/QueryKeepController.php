<?php

declare(strict_types=1);

namespace App\Http\Queries;

use App\Http\Controller;
use App\Models\Feed;
use App\Models\QueryKeep;
use App\Models\SavedQuery;
use App\Queries\Keeping\CannotKeep;
use App\Queries\Keeping\QueryKeeping;
use App\Queries\Keeping\QueryTexts;
use App\Queries\Keeping\ReadingOrder;
use App\Runs\Runs;
use App\Runs\RunWish;
use Illuminate\Http\RedirectResponse;
use Illuminate\Validation\ValidationException;

/**
 * Keeps a saved query as a view or as a table of the environment in hand.
 */
final class QueryKeepController extends Controller
{
    public function __construct(private readonly QueryKeeping $keeping, private readonly Runs $runs)
    {
    }

    public function store(SavedQuery $query): RedirectResponse
    {
        $this->authorize('update', $query);
        $name = $this->text('keep_name');
        $refresh = match ($this->text('when')) {
            'times' => ['every' => $this->text('every'), 'zone' => $this->person()->zone],
            'manual' => ['every' => 'manual'],
            default => [],
        };
        $key = array_values(array_filter(array_map(trim(...), explode(',', $this->text('key'))), static fn (string $one): bool => $one !== ''));
        try {
            if ($this->text('as') === 'table') {
                $this->keeping->asTable($query, $this->environment(), $name, $key, $refresh, $this->person(), $this->text('period') === '' ? null : ['column' => $this->text('period'), 'back' => $this->text('back')]);
                $said = "$name is being read for the first time.";
            } else {
                $this->keeping->asView($query, $this->environment(), $name, $this->person());
                $said = "$name can be read like a table now.";
            }
        } catch (CannotKeep $cannot) {
            throw ValidationException::withMessages(['keep' => $cannot->getMessage()]);
        }

        return redirect(route('queries.show', $query).'#kept')->with('notice', $said);
    }

    /**
     * What its columns mean.
     */
    public function describe(SavedQuery $query, QueryTexts $written): RedirectResponse
    {
        $this->authorize('update', $query);
        $texts = [];
        foreach ((array) request()->input('texts', []) as $name => $said) {
            $one = static fn (string $field): string => is_array($said) && is_string($said[$field] ?? null) ? trim($said[$field]) : '';
            $texts[(string) $name] = ['title' => $one('title'), 'unit' => $one('unit'), 'comment' => $one('comment')];
        }
        try {
            $written->write($this->keep($query), $texts, $this->person());
        } catch (CannotKeep $cannot) {
            throw ValidationException::withMessages(['texts' => $cannot->getMessage()]);
        }

        return redirect(route('queries.show', $query).'#texts')->with('notice', 'What the columns mean is written down.');
    }

    public function refresh(SavedQuery $query): RedirectResponse
    {
        $this->authorize('update', $query);
        $this->runs->queue($this->keep($query)->endpoint(), $this->environment(), $this->person(), new RunWish(whole: $this->text('whole') === '1'));

        return redirect(route('queries.show', $query).'#kept');
    }

    public function destroy(SavedQuery $query): RedirectResponse
    {
        $this->authorize('update', $query);
        $keep = $this->keep($query);
        $readers = ReadingOrder::queriesThatRead([$keep->name]);
        $names = [...$readers->map(fn (SavedQuery $one): string => $one->nameFor($this->person()))->unique()->all(), ...Feed::of($keep->environment_id, [$keep->name])->map(static fn (Feed $feed): string => "the feed {$feed->path()}")->all()];
        if ($names !== [] && $this->text('anyway') !== '1') {
            throw ValidationException::withMessages(['unkeep' => "$keep->name is read by ".implode(', ', $names).', which would fail. Press again to stop all the same.']);
        }
        try {
            $this->keeping->stop($keep, $this->person());
        } catch (CannotKeep $cannot) {
            throw ValidationException::withMessages(['unkeep' => $cannot->getMessage()]);
        }

        return redirect()->route('queries.show', $query)->with('notice', "$keep->name is gone. The query stays.");
    }

    private function keep(SavedQuery $query): QueryKeep
    {
        return QueryKeep::query()->with(['environment', 'source', 'savedQuery'])->where(['query_id' => $query->id, 'environment_id' => $this->environment()->id])->firstOrFail();
    }
}
