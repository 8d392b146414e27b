<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Consumer;
use App\Models\Feed;
use App\Models\FeedCall;
use App\Models\KeptTable;
use App\Models\Principal;
use App\Models\User;
use Illuminate\Support\Facades\Cache;

/**
 * Writes the files of feeds: for whoever asks, and ahead of them once rows have changed, for files that somebody asks
 * for again and again.
 */
final readonly class FilesAhead
{
    /** The last answers among which somebody is looked for who reads a file. */
    private const READERS = 20;

    /** Seconds after which a file that could not be written is tried again, while its rows are the same. */
    private const AGAIN = 600;

    public function __construct(private FeedRows $rows)
    {
    }

    /**
     * @return array{string, int} a file of its own, and its rows
     *
     * @throws FeedProblem
     */
    public function write(Feed $feed, FeedQuestion $question, Principal $reader, FeedForm $form): array
    {
        $path = (string) tempnam(base_path(config('spring.var').'/tmp'), 'feed');
        try {
            return [$path, FeedFile::write($path, $form, $question->columns, $this->rows->all($feed, $question, $reader))];
        } catch (\Throwable $failed) {
            @unlink($path);

            throw $failed;
        }
    }

    public static function isAnythingDue(): bool
    {
        foreach (self::due() as $one) {
            return true;
        }

        return false;
    }

    /**
     * Writes anew what holds rows that are no longer there.
     *
     * @param  float  $seconds  after which no other file is begun
     * @return int files
     */
    public function makeDue(float $seconds = 50): int
    {
        $until = microtime(true) + $seconds;
        $made = 0;
        foreach (self::due() as [$feed, $shape, $state, $form, $asked, $reader]) {
            if (microtime(true) > $until) {
                break;
            }
            try {
                $question = FeedQuestion::rest($feed, $shape, [], now()->toDateTimeImmutable());
                [$path, $rows] = $this->write($feed, $question, $reader, $form);
                // Nobody has asked for it yet: where nobody does, it goes when the one before would have gone.
                touch(WholeFiles::keep($path, $feed, $state, $form, $rows), $asked);
                $made++;
            } catch (FeedProblem) {
                // Whoever asks is told why.
                Cache::put(self::failed($feed, $state, $form), true, self::AGAIN);
            }
        }

        return $made;
    }

    /**
     * @return \Generator<int, array{Feed, FeedShape, FeedState, FeedForm, int, Principal}> with when somebody asked last, as a Unix time, and who may read it
     */
    private static function due(): \Generator
    {
        foreach (WholeFiles::asked() as [$id, $form, $asked]) {
            $feed = Feed::query()->with('environment', 'user')->where('is_on', true)->find($id);
            $table = $feed === null ? null : KeptTable::query()->where(['environment_id' => $feed->environment_id, 'name' => $feed->reads])->first();
            if ($feed === null || $table === null || $feed->asksReader() !== []) {
                continue;
            }
            [$shape, $state] = [FeedShape::of($feed, $table), FeedState::of($feed, $table)];
            $isDue = $shape->missing === [] && $state->mark !== null && ! WholeFiles::has($feed, $state, $form) && ! Cache::has(self::failed($feed, $state, $form));
            $reader = $isDue ? self::reader($feed, $form) : null;
            if ($reader !== null) {
                yield [$feed, $shape, $state, $form, $asked, $reader];
            }
        }
    }

    private static function failed(Feed $feed, FeedState $state, FeedForm $form): string
    {
        return "file.failed.$feed->id.{$form->value}.$state->mark";
    }

    /**
     * Somebody who read that file not long ago, and may read it now.
     */
    private static function reader(Feed $feed, FeedForm $form): ?Principal
    {
        $calls = FeedCall::query()->with('consumer', 'user')->where(['feed_id' => $feed->id, 'form' => $form->value])->where('status', '<', 400)->orderByDesc('id')->limit(self::READERS)->get();
        foreach ($calls as $call) {
            $reader = $call->consumer ?? $call->user;
            if ($reader instanceof Consumer && $reader->off_at === null && FeedRight::mayRead($reader, $feed) || $reader instanceof User && ! $reader->isOff() && FeedRight::mayRead($reader, $feed)) {
                return $reader;
            }
        }

        return null;
    }
}
