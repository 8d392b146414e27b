<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Models\Consumer;
use App\Models\Feed;
use App\Models\FeedCall;
use App\Models\KeptTable;
use App\Models\Principal;
use App\Models\User;
use Illuminate\Support\Carbon;

/**
 * Who asked what of a feed, and what came of it. Keys never stand in an address that is written down, whatever
 * somebody calls them there.
 */
final class CallLog
{
    private const DAYS = 90;

    private const ASKED = 1000;

    /** Seconds after which nobody waits for a file any more. */
    private const FORGOTTEN = 7200;

    /**
     * Once the answer is on its way, so that nobody waits for it.
     */
    public static function afterwards(Feed $feed, ?Principal $by, string $form, string $asked, int $rows, int $bytes, int $milliseconds, int $status, ?string $reason = null): void
    {
        $at = Carbon::now();
        $isNoted = false;
        app()->terminating(static function () use (&$isNoted, $feed, $by, $form, $asked, $rows, $bytes, $milliseconds, $status, $reason, $at): void {
            // An application that answers several requests asks again after each.
            $isNoted || self::note($feed, $by, $form, $asked, $rows, $bytes, $milliseconds, $status, $reason, $at);
            $isNoted = true;
        });
    }

    public static function note(Feed $feed, ?Principal $by, string $form, string $asked, int $rows, int $bytes, int $milliseconds, int $status, ?string $reason = null, ?Carbon $at = null): void
    {
        FeedCall::query()->toBase()->insert([
            'feed_id' => $feed->id, 'consumer_id' => $by instanceof Consumer ? $by->id : null, 'user_id' => $by instanceof User ? $by->id : null, 'at' => ($at ?? Carbon::now())->format('Y-m-d H:i:s.u'), 'form' => $form,
            'asked' => mb_strimwidth(self::withoutPrivate($feed, self::withoutKeys(mb_scrub(rawurldecode(strtr($asked, '+', ' ')), 'UTF-8'))), 0, self::ASKED, '…', 'UTF-8'), 'rows' => $rows, 'bytes' => $bytes, 'milliseconds' => $milliseconds, 'status' => $status,
            'reason' => $reason === null ? null : mb_strimwidth(self::withoutKeys($reason), 0, 500, '…', 'UTF-8'),
        ]);
    }

    public static function tidy(): void
    {
        FeedCall::query()->where('at', '<', Carbon::now()->subDays(self::DAYS))->limit(50_000)->delete();
        WholeFiles::tidy();
        // Files whose process died before they were sent.
        foreach ((array) glob(base_path(config('spring.var').'/tmp/feed*')) as $file) {
            filemtime((string) $file) < time() - self::FORGOTTEN && @unlink((string) $file);
        }
    }

    /**
     * Values of a condition that names a masked column, and what is searched for in a feed that has one, are left out:
     * who asks may write what the mask hides.
     */
    private static function withoutPrivate(Feed $feed, string $asked): string
    {
        if (preg_match('/(?:^|&)\$?(?:filter|search|apply|expand)=|^\w*\(/i', $asked) !== 1) {
            return $asked;
        }
        $masked = array_keys(array_filter(array_column(KeptTable::query()->where(['environment_id' => $feed->environment_id, 'name' => $feed->reads])->value('columns') ?? [], 'mask', 'name'), static fn (string $mask): bool => $mask !== 'none'));
        $private = array_column(array_filter($feed->columns, static fn (array $one): bool => in_array($one['column'], $masked, true)), 'name');
        if ($private === []) {
            return $asked;
        }

        return (string) preg_replace_callback('/(?<=^|&)(\$?(?:filter|search|apply|expand)=)([^&]*)/i', static function (array $part) use ($private): string {
            $isSearch = str_contains(strtolower($part[1]), 'search');
            $names = array_filter($private, static fn (string $name): bool => preg_match("/\b$name\b/", $part[2]) === 1);

            return $part[1].($isSearch ? '(private)' : ($names === [] ? $part[2] : (string) preg_replace("/'(?:[^']|'')*'?|\\b\\d[\\d.:TZ+-]*/", '(private)', $part[2])));
        }, $asked);
    }

    public static function withoutKeys(string $text): string
    {
        return (string) preg_replace('/\b(?:ds_[A-Za-z0-9]{7}[A-Za-z0-9]+|dst_[A-Za-z0-9_.-]{8,})/', '(a key)', $text);
    }
}
