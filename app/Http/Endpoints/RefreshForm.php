<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use DeepSpring\Schedule\CronTimes;
use DeepSpring\Schedule\InvalidSchedule;
use DeepSpring\Schedule\PlainTimes;
use DeepSpring\Schedule\RefreshTimes;

/**
 * What the sheet of an endpoint says of when its tables are refreshed → `keep.refresh` of a source file. What
 * the form does not show stays as the document has it.
 */
final readonly class RefreshForm
{
    /** The choice of somebody who writes an expression. */
    public const CRON = 'cron';

    /** What is shown and therefore decided here. */
    private const OWN = ['every', 'zone', 'after', 'when_asked', 'in'];

    /**
     * @param  array<string, mixed>  $form  choice, step, minute, hour, until, days, date, at, cron, zone, after, older_than, wait, in
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed> the endpoint
     */
    public static function apply(array $form, array $endpoint): array
    {
        $was = $endpoint['keep']['refresh'] ?? [];
        $text = array_map(static fn (mixed $value): string => is_string($value) ? trim($value) : '', $form);
        $every = self::every($text, $was['every'] ?? RefreshTimes::MANUAL);
        $zone = $text['zone'] ?? $was['zone'] ?? 'UTC';
        $refresh = array_diff_key($was, array_fill_keys(self::OWN, 1));
        if ($every !== RefreshTimes::MANUAL) {
            $refresh += ['every' => $every] + ($zone === '' || $zone === 'UTC' ? [] : ['zone' => $zone]);
        } elseif (isset($was['every'], $form['choice']) && $was['every'] === RefreshTimes::MANUAL) {
            $refresh += ['every' => RefreshTimes::MANUAL];
        }
        $after = array_key_exists('after', $form) ? self::names($text['after']) : ($was['after'] ?? []);
        $in = array_key_exists('in', $form) ? self::names($text['in']) : ($was['in'] ?? []);
        $asked = array_key_exists('older_than', $form) ? self::asked($text) : ($was['when_asked'] ?? []);
        $refresh += ($after === [] ? [] : ['after' => $after]) + ($in === [] ? [] : ['in' => $in]) + ($asked === [] ? [] : ['when_asked' => $asked]);
        $keep = ($refresh === [] ? [] : ['refresh' => $refresh]) + array_diff_key($endpoint['keep'] ?? [], ['refresh' => 1]);

        return $keep === [] ? array_diff_key($endpoint, ['keep' => 1]) : ['keep' => $keep] + $endpoint;
    }

    /**
     * @param  array<string, string>  $text
     */
    private static function every(array $text, string $was): string
    {
        $choice = $text['choice'] ?? '';
        if ($choice === self::CRON) {
            // Chosen just now, it begins with what the words stood for.
            return isset($text['cron']) && $text['cron'] !== '' ? $text['cron'] : ($was === RefreshTimes::MANUAL ? '0 6 * * *' : $was);
        }

        return match ($choice) {
            '' => $was,
            RefreshTimes::MANUAL => RefreshTimes::MANUAL,
            default => PlainTimes::ofForm($choice, $text)->cron(),
        };
    }

    /**
     * @param  array<string, string>  $text
     * @return array<string, mixed>
     */
    private static function asked(array $text): array
    {
        return ($text['older_than'] ?? '') === '' ? [] : ['older_than' => $text['older_than']] + (($text['wait'] ?? '') === '1' ? ['wait' => true] : []);
    }

    /**
     * @return list<string>
     */
    private static function names(string $text): array
    {
        return array_values(array_unique(preg_split('/[\s,]+/', $text, -1, PREG_SPLIT_NO_EMPTY) ?: []));
    }

    /**
     * Which of the choices an expression is.
     */
    public static function choice(string $every): string
    {
        if ($every === RefreshTimes::MANUAL) {
            return RefreshTimes::MANUAL;
        }
        try {
            return PlainTimes::ofCron((new CronTimes($every))->expression)->every ?? self::CRON;
        } catch (InvalidSchedule) {
            return self::CRON;
        }
    }
}
