<?php

declare(strict_types=1);

namespace App\Http\Notes;

use App\Http\Controller;
use App\Models\Note;
use App\Models\NoteKind;
use App\Models\Source;
use App\Notes\AsideTime;
use App\Notes\NoteBook;
use Illuminate\Contracts\View\View;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Http\RedirectResponse;
use Illuminate\Support\Carbon;
use Illuminate\Validation\ValidationException;

/**
 * What people are told without being asked, in the environment somebody works in.
 */
final class NoteController extends Controller
{
    private const PAGE = 30;

    private const STATES = ['open' => 'open', 'aside' => 'put aside', 'closed' => 'over', 'all' => 'all'];

    private const SORTS = ['raised' => 'raised_at', 'since' => 'since', 'title' => 'title'];

    /** Earlier notes of the same cause that are listed. */
    private const EARLIER = 20;

    public function __construct(private readonly NoteBook $book)
    {
    }

    public function index(): View
    {
        $this->book->align($this->environment());
        $state = isset(self::STATES[$this->text('state')]) ? $this->text('state') : 'open';
        $kind = NoteKind::tryFrom($this->text('kind'));
        $sort = isset(self::SORTS[$this->text('sort')]) ? $this->text('sort') : 'raised';
        [$search, $source] = [$this->text('q'), $this->text('source')];
        $role = $this->person()->role;
        $like = '%'.addcslashes($search, '%_\\').'%';
        $notes = Note::inState(Note::for($this->environment(), $role), $state)->with(['source', 'endpoint', 'asideBy'])
            ->when($kind !== null, static fn (Builder $query) => $query->where('kind', $kind))
            ->when($source !== '' && $role->mayBuild(), static fn (Builder $query) => $query->whereHas('source', static fn (Builder $of) => $of->where('slug', $source)))
            ->when($search !== '', static fn (Builder $query) => $query->where(static fn (Builder $any) => $any->whereRaw('title collate utf8mb4_general_ci like ?', [$like])->orWhereRaw('`table` collate utf8mb4_general_ci like ?', [$like])
                ->orWhereRaw(($role->mayBuild() ? 'sentence' : 'reader_sentence').' collate utf8mb4_general_ci like ?', [$like])))
            ->when($sort === 'raised' && $state === 'open', static fn (Builder $query) => $query->orderByDesc('is_failure'))
            ->orderBy(self::SORTS[$sort], $sort === 'raised' ? 'desc' : 'asc')->orderByDesc('id')->paginate(self::PAGE)->withQueryString();

        return view('notes.index', ['notes' => $notes, 'state' => $state, 'states' => self::STATES, 'kind' => $kind, 'sort' => $sort, 'search' => $search, 'source' => $source, 'role' => $role, 'sources' => $role->mayBuild() ? Source::query()->orderBy('name')->pluck('name', 'slug') : collect()]);
    }

    public function show(Note $note): View
    {
        abort_if($note->sentenceFor($this->person()->role) === null, 404);
        if ($note->isOpen()) {
            $this->book->align($note->environment);
            $note->refresh();
        }
        $earlier = Note::query()->where('cause', $note->cause)->where('environment_id', $note->environment_id)->where('id', '!=', $note->id)->latest('id')->limit(self::EARLIER)->get();

        return view('notes.show', ['note' => $note, 'earlier' => $earlier, 'role' => $this->person()->role]);
    }

    public function aside(Note $note): RedirectResponse
    {
        $this->mayAnswer();
        $said = $this->text('until');
        try {
            $until = AsideTime::of($said === 'time' ? $this->text('time') : $said, $this->person()->zone, Carbon::now());
        } catch (\InvalidArgumentException $refused) {
            throw ValidationException::withMessages(['until' => $refused->getMessage()])->redirectTo(route('notes.show', $note));
        }
        if (! $note->isOpen()) {
            return redirect()->route('notes.show', $note)->with('notice', 'It is over meanwhile, so there is nothing to put aside.');
        }
        $this->book->putAside($note, $until, $this->person());

        return redirect()->route('notes.index')->with('notice', "{$note->title} is put aside.");
    }

    public function back(Note $note): RedirectResponse
    {
        $this->mayAnswer();
        $this->book->takeBack($note);

        return redirect()->route('notes.show', $note);
    }

    private function mayAnswer(): void
    {
        abort_unless($this->person()->role->mayBuild(), 403);
    }
}
