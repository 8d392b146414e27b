<?php

declare(strict_types=1);

namespace App\Notes\Causes;

use App\Models\Environment;
use App\Models\Feed;
use App\Models\NoteKind;
use App\Notes\Cause;
use App\Notes\CauseFinder;

/**
 * Feeds that are on and cannot be read, or of which a source made something else.
 */
final readonly class FaultyFeeds implements CauseFinder
{
    public function kinds(): array
    {
        return [NoteKind::Feed];
    }

    public function find(Environment $environment): array
    {
        $broken = Feed::query()->where(['environment_id' => $environment->id, 'is_on' => true])->whereNot('fault', null)->get();

        return array_values($broken->map(static fn (Feed $feed): Cause => new Cause(
            NoteKind::Feed, "f$feed->id", $feed->path(), (string) $feed->fault, route('outlets.feed', $feed, false), $feed->updated_at, null, null, $feed->reads,
            'Something is wrong with the feed.', 'Open it: leave the column out, or save it as it is now.', null,
        ))->all());
    }
}
