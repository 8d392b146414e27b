<?php

declare(strict_types=1);

namespace App\Notes;

use App\Models\Delivery;
use App\Models\Follow;
use App\Models\Note;
use App\Secrets\NamedLock;
use DeepSpring\Schedule\CronTimes;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;

/**
 * Makes messages of what was raised and closed, for those who follow it. A note that was over before anybody was
 * told of it is not told.
 */
final readonly class Announcer
{
    /** Notes taken in one go. */
    private const AT_ONCE = 1000;

    public function __construct(private NoteText $text)
    {
    }

    /**
     * @return int messages made
     */
    public function announce(): int
    {
        $lock = NamedLock::of(DB::connection(), 'notes');
        if (! $lock->takeFree()) {
            return 0;
        }
        try {
            return $this->changed() + $this->daily();
        } finally {
            $lock->release();
        }
    }

    /**
     * A message that says how the others will look, to see whether they arrive.
     */
    public function test(Follow $follow): Delivery
    {
        $now = Carbon::now();
        $sentence = "This is a test. You follow {$follow->thing()} in {$follow->environment->name}.";
        $body = $follow->by === Follow::MAIL ? "$sentence\n" : json_encode(['type' => 'test', 'timestamp' => $now->format('Y-m-d\TH:i:s.v\Z'), 'data' => ['environment' => $follow->environment->slug, 'sentence' => $sentence]], JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE);

        return $this->message($follow, 'test', 'A test', $body, $now);
    }

    private function changed(): int
    {
        $notes = Note::query()->with(['source', 'endpoint'])->where(static fn (Builder $either) => $either->where('told_raised', false)->orWhere(static fn (Builder $over) => $over->whereNotNull('closed_at')->where('told_closed', false)))->orderBy('id')->limit(self::AT_ONCE)->get();
        if ($notes->isEmpty()) {
            return 0;
        }
        $follows = $this->follows()->where('daily_at', null)->get();

        return DB::transaction(function () use ($notes, $follows): int {
            $made = 0;
            foreach ($follows as $follow) {
                $mine = $notes->filter(static fn (Note $note): bool => ! $follow->user->isOff() && $follow->concerns($note));
                $told = array_filter(['raised' => $mine->filter(static fn (Note $note): bool => ! $note->told_raised && $note->isOpen())->values()->all(), 'closed' => $mine->filter(static fn (Note $note): bool => $note->told_raised && ! $note->isOpen() && $note->raised_at > $follow->created_at)->values()->all()]);
                if ($told !== []) {
                    $this->send('notes.changed', $follow, $told + ['raised' => [], 'closed' => []]);
                    $made++;
                }
            }
            Note::query()->whereKey($notes->modelKeys())->update(['told_raised' => true]);
            Note::query()->whereKey($notes->reject(static fn (Note $note): bool => $note->isOpen())->modelKeys())->update(['told_closed' => true]);

            return $made;
        });
    }

    private function daily(): int
    {
        $made = 0;
        $now = Carbon::now();
        foreach ($this->follows()->where('daily_at', '!=', null)->where('next_at', '<=', $now)->get() as $follow) {
            $open = Note::open($follow->environment, $follow->user->role)->with(['source', 'endpoint'])->get();
            $over = Note::for($follow->environment, $follow->user->role)->with(['source', 'endpoint'])->where('closed_at', '>=', $follow->told_until ?? $follow->created_at)->where('raised_at', '<=', $now->copy()->subMinute())->orderBy('id')->get();
            $mine = static fn (Note $note): bool => $follow->concerns($note);
            $told = ['open' => $open->filter($mine)->values()->all(), 'closed' => $over->filter($mine)->values()->all()];
            DB::transaction(function () use ($follow, $told, $now, &$made): void {
                $follow->update(['told_until' => $now, 'next_at' => self::next($follow, $now)]);
                if (array_filter($told) !== [] && ! $follow->user->isOff()) {
                    $this->send('notes.daily', $follow, $told);
                    $made++;
                }
            });
        }

        return $made;
    }

    /**
     * When somebody is told who wants to be told once a day.
     */
    public static function next(Follow $follow, Carbon $now): ?Carbon
    {
        if ($follow->daily_at === null) {
            return null;
        }
        [$hour, $minute] = array_map(intval(...), explode(':', $follow->daily_at));
        $next = (new CronTimes("$minute $hour * * *", $follow->user->zone))->after($now->toDateTimeImmutable());

        return Carbon::instance($next)->utc();
    }

    /**
     * @return Builder<Follow>
     */
    private function follows(): Builder
    {
        return Follow::query()->with(['user', 'environment', 'source', 'endpoint.source'])->where('ended', null)->orderBy('id');
    }

    /**
     * @param  array<string, list<Note>>  $notes
     */
    private function send(string $kind, Follow $follow, array $notes): void
    {
        $now = Carbon::now();
        $this->message($follow, $kind, $this->text->subject($follow, $notes), $follow->by === Follow::MAIL ? $this->text->mail($follow, $notes) : $this->text->json($kind, $follow, $notes, $now), $now);
    }

    private function message(Follow $follow, string $kind, string $subject, string $body, Carbon $now): Delivery
    {
        return Delivery::query()->create(['follow_id' => $follow->id, 'message' => 'msg_'.strtolower((string) Str::ulid()), 'kind' => $kind, 'subject' => $subject, 'body' => $body, 'state' => Delivery::WAITING, 'next_at' => $now, 'created_at' => $now]);
    }
}
