<?php

declare(strict_types=1);

namespace App\Http\Outlets;

use App\Models\Feed;
use App\Models\User;
use App\Outlets\CannotPublish;

/**
 * What the sheet of a feed sends → settings of the feed.
 */
final class FeedFields
{
    /**
     * @param  array<string, mixed>  $form
     * @return array<string, mixed>
     *
     * @throws CannotPublish where a number is none
     */
    public static function read(array $form, Feed $feed): array
    {
        $settings = [
            'title' => mb_substr(self::text($form, 'title'), 0, 200), 'about' => mb_substr(self::text($form, 'about'), 0, 2000), 'condition' => mb_substr(self::text($form, 'condition'), 0, 10_000), 'sort' => self::text($form, 'sort'),
            'key' => self::list(self::text($form, 'key')), 'origins' => self::list(strtr(self::text($form, 'origins'), ' ', ',')), 'for_people' => self::text($form, 'for_people') === '1',
            'page' => self::number($form, 'page', $feed->page) ?? 100, 'most' => self::number($form, 'most', $feed->most) ?? 1000, 'cache_seconds' => self::number($form, 'cache_seconds', $feed->cache_seconds) ?? 0, 'oldest_minutes' => self::number($form, 'oldest_minutes', $feed->oldest_minutes),
        ];
        $owner = self::text($form, 'user_id');
        if ($owner !== '' && $owner !== (string) $feed->user_id) {
            $settings['user_id'] = User::query()->whereKey((int) $owner)->whereNull('off_at')->value('id') ?? throw CannotPublish::because('Nobody is here by that name.', 'user_id');
        }
        // The address of what others read stays what it is.
        $settings += $feed->is_on || $feed->version > 1 ? [] : ['name' => self::text($form, 'name')];

        return isset($form['columns']) && is_array($form['columns']) ? $settings + ['columns' => self::columns($form['columns'])] : $settings;
    }

    /**
     * Those that are shown, by the place that somebody gave them.
     *
     * @param  array<array-key, mixed>  $rows
     * @return list<array{name: string, column: string}>
     */
    private static function columns(array $rows): array
    {
        $shown = [];
        foreach (array_values(array_filter($rows, is_array(...))) as $number => $row) {
            if (self::text($row, 'shown') === '1') {
                $place = self::text($row, 'place');
                $shown[] = [is_numeric($place) ? (float) $place : $number + 1, $number, ['name' => self::text($row, 'name') ?: self::text($row, 'column'), 'column' => self::text($row, 'column')]];
            }
        }
        usort($shown, static fn (array $one, array $other): int => [$one[0], $one[1]] <=> [$other[0], $other[1]]);

        return array_column($shown, 2);
    }

    /**
     * @param  array<string, mixed>  $form
     *
     * @throws CannotPublish
     */
    private static function number(array $form, string $name, ?int $was): ?int
    {
        $text = self::text($form, $name);
        if (! array_key_exists($name, $form)) {
            return $was;
        }
        if ($text !== '' && preg_match('/^\d{1,8}$/D', $text) !== 1) {
            throw CannotPublish::because("\"$text\" is no whole number.", $name);
        }

        return $text === '' ? null : (int) $text;
    }

    /**
     * @return list<string>
     */
    public static function list(string $text): array
    {
        return array_values(array_unique(array_filter(array_map(trim(...), explode(',', $text)), static fn (string $one): bool => $one !== '')));
    }

    /**
     * @param  array<array-key, mixed>  $form
     */
    private static function text(array $form, string $name): string
    {
        return is_string($form[$name] ?? null) ? trim($form[$name]) : '';
    }
}
