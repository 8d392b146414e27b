<?php

declare(strict_types=1);

namespace App\Notes\Causes;

use App\Models\Environment;
use App\Models\Feed;
use App\Models\NoteKind;
use App\Notes\Cause;
use App\Notes\CauseFinder;

/**
 * Feeds that are on and cannot be read.
 */
final readonly class UnreadableFeeds implements CauseFinder
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
            'The feed cannot be read.', 'Open it, and leave the column out or choose another table.', 'Whoever asks for it is told so.',
        ))->all());
    }
}
