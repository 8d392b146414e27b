<?php

declare(strict_types=1);

namespace App\Http\Notes;

use App\Http\Controller;
use App\Models\Delivery;
use App\Models\Endpoint;
use App\Models\Follow;
use App\Models\KeptTable;
use App\Models\Source;
use App\Notes\Announcer;
use App\Notes\FollowRefused;
use App\Notes\Follows;
use App\Notes\Sender;
use App\People\Post;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Validation\ValidationException;

/**
 * What somebody follows, how they are told, and what became of each message.
 */
final class FollowController extends Controller
{
    private const PAGE = 30;

    public function __construct(private readonly Follows $follows)
    {
    }

    public function index(Post $post): View
    {
        $mine = Follow::query()->with(['environment', 'source', 'endpoint.source'])->where('user_id', $this->person()->id)->orderBy('environment_id')->orderBy('id')->paginate(self::PAGE)->withQueryString();
        $last = Delivery::query()->whereIn('id', Delivery::query()->whereIn('follow_id', $mine->pluck('id'))->groupBy('follow_id')->selectRaw('max(id)'))->get()->keyBy('follow_id');

        return view('notes.following', ['follows' => $mine, 'last' => $last, 'things' => $this->things(), 'asked' => $this->text('thing'), 'mail' => $post->takesNotes(), 'person' => $this->person(), 'secret' => session('secret')]);
    }

    public function store(): RedirectResponse
    {
        [$source, $endpoint] = $this->thing($this->text('thing'));
        try {
            [$follow, $secret] = $this->follows->add($this->person(), $this->environment(), $source, $endpoint, $this->text('by') === Follow::POST ? $this->text('address') : null, $this->text('when') === 'daily' ? $this->text('daily_at') : null, $this->text('which') === 'failures');
        } catch (FollowRefused $refused) {
            throw ValidationException::withMessages([$refused->field => $refused->getMessage()])->redirectTo(route('notes.following'));
        }

        return redirect()->route('notes.following')->with('notice', "You follow {$follow->thing()} in {$this->environment()->name}.")->with('secret', $secret === null ? null : [$follow->id, $secret]);
    }

    public function destroy(Follow $follow): RedirectResponse
    {
        $this->mine($follow)->delete();

        return redirect()->route('notes.following')->with('notice', "You do not follow {$follow->thing()} any more.");
    }

    public function test(Follow $follow, Announcer $announcer, Sender $sender): RedirectResponse
    {
        $delivery = $announcer->test($this->mine($follow));
        $sender->sendTo($follow);

        return redirect()->route('notes.deliveries', $follow)->with('notice', $delivery->refresh()->state === Delivery::SENT ? 'The test arrived.' : null);
    }

    public function renew(Follow $follow): RedirectResponse
    {
        abort_unless($this->mine($follow)->by === Follow::POST, 404);

        return redirect()->route('notes.following')->with('secret', [$follow->id, $this->follows->renewSecret($follow)]);
    }

    public function deliveries(Follow $follow): View
    {
        return view('notes.deliveries', ['follow' => $this->mine($follow), 'deliveries' => $follow->deliveries()->latest('id')->paginate(self::PAGE)]);
    }

    private function mine(Follow $follow): Follow
    {
        abort_unless($follow->user_id === $this->person()->id, 404);

        return $follow;
    }

    /**
     * @return array{Source|null, Endpoint|null}
     */
    private function thing(string $said): array
    {
        if ($said === '') {
            return [null, null];
        }
        $endpoint = preg_match('/^e(\d+)$/D', $said, $part) === 1 ? Endpoint::query()->find((int) $part[1]) : null;
        $source = preg_match('/^s(\d+)$/D', $said, $part) === 1 && $this->person()->role->mayBuild() ? Source::query()->find((int) $part[1]) : null;
        if ($endpoint === null && $source === null) {
            throw ValidationException::withMessages(['thing' => 'Choose one of the list.'])->redirectTo(route('notes.following'));
        }

        return [$source, $endpoint];
    }

    /**
     * What can be followed: for those who may not see sources, the endpoints by their tables.
     *
     * @return array<string, string> value → label
     */
    private function things(): array
    {
        $things = ['' => 'everything'];
        $tables = KeptTable::query()->where('environment_id', $this->environment()->id)->where('is_branch', false)->orderBy('name')->pluck('name', 'endpoint_id');
        if (! $this->person()->role->mayBuild()) {
            foreach ($tables as $endpoint => $name) {
                $things["e$endpoint"] = $name;
            }

            return $things;
        }
        $endpoints = Endpoint::query()->whereIn('id', $tables->keys())->orderBy('name')->get(['id', 'name', 'source_id'])->groupBy('source_id');
        foreach (Source::described()->orderBy('name')->get(['id', 'name', 'slug']) as $source) {
            $things["s{$source->id}"] = $source->name;
            foreach ($endpoints->get($source->id) ?? [] as $endpoint) {
                $things["e{$endpoint->id}"] = "{$source->name} › {$endpoint->name}";
            }
        }

        return $things;
    }
}
