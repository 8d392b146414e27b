<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Feed;

/**
 * Files with all rows of a feed, kept until its rows change: whoever asks for the same again is given the same file.
 * They hold what every reader of the feed gets, so only answers that depend on nobody and on nothing that is asked with
 * are kept.
 */
final class WholeFiles
{
    /** Seconds for which a file that nobody asks for is kept. */
    private const KEPT = 86_400;

    /** Seconds after which nobody is about to open one of earlier rows. */
    private const SENT = 600;

    /**
     * @return array{string, int}|null the file, and its rows; null where there is none of these rows
     */
    public static function find(Feed $feed, FeedState $state, FeedForm $form): ?array
    {
        foreach ($state->mark === null ? [] : self::of($feed, $state->mark, $form) as $path) {
            if (preg_match('/-(\d+)\.\w+$/D', $path, $found) === 1 && @touch($path)) {
                return [$path, (int) $found[1]];
            }
        }

        return null;
    }

    public static function has(Feed $feed, FeedState $state, FeedForm $form): bool
    {
        return $state->mark !== null && self::of($feed, $state->mark, $form) !== [];
    }

    /**
     * Of which feeds and in which forms somebody asked for all rows within the last day.
     *
     * @return list<array{int, FeedForm, int}> the feed, the form, and when it was, as a Unix time
     */
    public static function asked(): array
    {
        $asked = [];
        foreach (glob(self::folder().'/whole-*') ?: [] as $path) {
            $form = preg_match('/^whole-(\d+)-.*\.(\w+)$/D', basename($path), $found) === 1 ? FeedForm::tryFrom($found[2]) : null;
            $at = (int) @filemtime($path);
            if ($form !== null && $at >= time() - self::KEPT) {
                $before = $asked["$found[1] $form->value"][2] ?? 0;
                $asked["$found[1] $form->value"] = [(int) $found[1], $form, max($at, $before)];
            }
        }

        return array_values($asked);
    }

    /**
     * Keeps a file that was just written; those of rows that are no longer there go.
     *
     * @return string where it is now
     */
    public static function keep(string $path, Feed $feed, FeedState $state, FeedForm $form, int $rows): string
    {
        $kept = self::folder()."/whole-$feed->id-".self::short((string) $state->mark)."-$rows.$form->value";
        if (! @rename($path, $kept)) {
            return $path;
        }
        foreach ((array) glob(self::folder()."/whole-$feed->id-*.$form->value") as $one) {
            // One that is being sent is still there for whoever opened it a moment ago.
            $one !== $kept && @filemtime((string) $one) < time() - self::SENT && @unlink((string) $one);
        }

        return $kept;
    }

    public static function tidy(): void
    {
        foreach ((array) glob(self::folder().'/whole-*') as $path) {
            @filemtime((string) $path) < time() - self::KEPT && @unlink((string) $path);
        }
    }

    /**
     * @return list<string>
     */
    private static function of(Feed $feed, string $mark, FeedForm $form): array
    {
        return glob(self::folder()."/whole-$feed->id-".self::short($mark)."-*.$form->value") ?: [];
    }

    private static function short(string $mark): string
    {
        return substr(hash('sha256', $mark), 0, 32);
    }

    private static function folder(): string
    {
        return base_path(config('spring.var').'/tmp');
    }
}
