<?php

declare(strict_types=1);

namespace App\People;

use App\Models\OpenSession;
use App\Models\User;
use Illuminate\Http\Request;
use Illuminate\Support\Carbon;

/**
 * The browsers in which somebody is signed in. Each request looks whether its session is still
 * open, so that ending one is immediate wherever sessions themselves are kept.
 */
final readonly class Sessions
{
    /** Where the browser's session keeps what only it knows. */
    private const MARK = 'open_session';

    /** Seconds between two notes of when somebody was last seen. */
    private const NOTE = 60;

    public function begin(Request $request, User $person): void
    {
        $mark = bin2hex(random_bytes(20));
        $request->session()->put(self::MARK, $mark);
        OpenSession::query()->create([
            'user_id' => $person->id, 'mark' => self::hash($mark), 'ip' => $request->ip(), 'agent' => mb_substr(mb_scrub((string) $request->userAgent()), 0, 300),
            'begun_at' => Carbon::now(), 'seen_at' => Carbon::now(),
        ]);
        OpenSession::query()->where('seen_at', '<', Carbon::now()->subMinutes(2 * (int) config('session.lifetime')))->delete();
    }

    /**
     * The session of this request; null when it was ended.
     */
    public function current(Request $request, User $person): ?OpenSession
    {
        $mark = $request->session()->get(self::MARK);
        $session = is_string($mark) ? OpenSession::query()->where('mark', self::hash($mark))->where('user_id', $person->id)->first() : null;
        if ($session !== null && abs((int) $session->seen_at->diffInSeconds(Carbon::now())) > self::NOTE) {
            OpenSession::query()->whereKey($session->id)->update(['seen_at' => Carbon::now(), 'ip' => $request->ip()]);
            User::query()->whereKey($person->id)->toBase()->update(['seen_at' => Carbon::now()]);
        }

        return $session;
    }

    public function endAll(User $person, ?OpenSession $but = null): int
    {
        return (int) OpenSession::query()->where('user_id', $person->id)->when($but !== null, static fn ($query) => $query->whereKeyNot($but?->id))->delete();
    }

    public function end(OpenSession $session): void
    {
        $session->delete();
    }

    private static function hash(string $mark): string
    {
        return hash('sha256', $mark);
    }
}
