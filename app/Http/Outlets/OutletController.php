<?php

declare(strict_types=1);

namespace App\Http\Outlets;

use App\Http\Controller;
use App\Models\Consumer;
use App\Models\Feed;
use App\Models\FeedCall;
use App\Models\KeptTable;
use App\Outlets\CallFigures;
use App\Outlets\CannotPublish;
use App\Outlets\FeedBook;
use App\Outlets\FeedRows;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;

/**
 * Feeds as those see them who hand them out.
 */
final class OutletController extends Controller
{
    private const PAGE = 25;

    private const SORTS = ['name' => 'asc', 'updated_at' => 'desc', 'reads' => 'asc'];

    public function __construct(private readonly FeedBook $book)
    {
    }

    public function index(): View
    {
        $search = $this->text('q');
        $sort = isset(self::SORTS[$this->text('sort')]) ? $this->text('sort') : 'name';
        $like = '%'.addcslashes($search, '%_\\').'%';
        $feeds = Feed::query()->with('user')->withCount('consumers')->where('environment_id', $this->environment()->id)
            ->when($search !== '', static fn ($query) => $query->where(static fn ($query) => $query->where('name', 'like', $like)->orWhere('title', 'like', $like)->orWhere('reads', 'like', $like)))
            ->orderBy($sort, self::SORTS[$sort])->orderBy('version')->paginate(self::PAGE)->withQueryString();
        $calls = [];
        foreach ($feeds as $feed) {
            $days = CallFigures::days($feed);
            $refused = array_sum(array_column($days, 'refused'));
            $calls[$feed->id] = ['requests' => $refused + array_sum(array_column($days, 'answered')), 'refused' => $refused];
        }
        $consumers = Consumer::query()->with('user', 'keys')->withCount('feeds')->when($search !== '', static fn ($query) => $query->where('name', 'like', $like))->orderBy('name')->paginate(self::PAGE, pageName: 'readers')->withQueryString();

        return view('outlets.index', ['feeds' => $feeds, 'calls' => $calls, 'consumers' => $consumers, 'search' => $search, 'sort' => $sort]);
    }

    /**
     * A feed of a table, which nobody can read before it is published.
     */
    public function store(): RedirectResponse
    {
        $table = KeptTable::query()->where(['environment_id' => $this->environment()->id, 'name' => $this->text('table')])->first() ?? abort(404, "There is no table \"{$this->text('table')}\" in {$this->environment()->name}.");

        return redirect()->route('outlets.feed', $this->book->draft($table, $this->person()));
    }

    public function show(Feed $feed, FeedRows $rows): View
    {
        $table = KeptTable::query()->with('endpoint.source')->where(['environment_id' => $feed->environment_id, 'name' => $feed->reads])->first();

        return view('outlets.feed', ['sheet' => new FeedSheet($feed, $table, $rows, $this->person()), 'feed' => $feed]);
    }

    public function update(Feed $feed): RedirectResponse
    {
        $this->authorize('update', $feed);
        $form = request()->all();
        try {
            $this->book->change($feed, FeedFields::read($form, $feed), $this->person(), $this->text('insist') === '1');
            $this->readers($feed, is_array($form['readers'] ?? null) ? $form['readers'] : []);
            if ($this->text('then') === 'publish') {
                $this->book->publish($feed, $this->person());

                return redirect()->route('outlets.feed', $feed)->with('notice', "$feed->name can be read now.");
            }
        } catch (CannotPublish $cannot) {
            return redirect()->route('outlets.feed', $feed)->withInput()->withErrors([$cannot->field => $cannot->getMessage()]);
        }

        return redirect()->route('outlets.feed', $feed)->with('notice', $feed->is_on ? 'Saved. Readers get it like this from now on.' : 'Saved. Nobody can read it yet.');
    }

    /**
     * @param  array<array-key, mixed>  $chosen  ids
     */
    private function readers(Feed $feed, array $chosen): void
    {
        $feed->consumers()->sync(Consumer::query()->whereIn('id', array_filter(array_map(static fn (mixed $id): int => is_numeric($id) ? (int) $id : 0, $chosen)))->pluck('id')->all());
    }

    public function next(Feed $feed): RedirectResponse
    {
        $this->authorize('update', $feed);
        $next = $this->book->next($feed, $this->person());

        return redirect()->route('outlets.feed', $next)->with('notice', "Version $next->version stands beside version $feed->version, which stays as it is. Nobody can read it yet.");
    }

    public function off(Feed $feed): RedirectResponse
    {
        $this->authorize('update', $feed);
        $this->book->turnOff($feed, $this->person());

        return redirect()->route('outlets.feed', $feed)->with('notice', "$feed->name is off. Its readers are told that there is no such feed.");
    }

    public function destroy(Feed $feed): RedirectResponse
    {
        $this->authorize('update', $feed);
        $this->book->delete($feed, $this->person());

        return redirect()->route('outlets.index')->with('notice', "The feed $feed->name, version $feed->version, is deleted.");
    }

    public function calls(Feed $feed): View
    {
        $which = in_array($this->text('which'), ['refused', 'slow'], true) ? $this->text('which') : '';
        $calls = FeedCall::query()->with('consumer', 'user')->where('feed_id', $feed->id)
            ->when($which === 'refused', static fn ($query) => $query->where('status', '>=', 400))
            ->when($this->text('q') !== '', fn ($query) => $query->where('asked', 'like', '%'.addcslashes($this->text('q'), '%_\\').'%'))
            ->orderByDesc($which === 'slow' ? 'milliseconds' : 'id')->simplePaginate(50)->withQueryString();

        return view('outlets.calls', ['feed' => $feed, 'calls' => $calls, 'which' => $which, 'search' => $this->text('q')]);
    }

    public function documentation(Feed $feed): View
    {
        $table = KeptTable::query()->where(['environment_id' => $feed->environment_id, 'name' => $feed->reads])->first();

        return view('outlets.documentation', ['feed' => $feed, 'docs' => new FeedDocumentation($feed, $table)]);
    }
}
