<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use DeepSpring\Flatten\TablePlan;
use DeepSpring\Increment\IncrementProposal;
use DeepSpring\Increment\Increments;
use DeepSpring\Schedule\CronTimes;
use DeepSpring\Schedule\InvalidSchedule;
use DeepSpring\Schedule\PlainTimes;
use DeepSpring\Schedule\RefreshTimes;
use DeepSpring\SourceFile\EndpointDefinition;

/**
 * What the sheet of an endpoint says of when its tables are refreshed → `keep.refresh` of a source file. What
 * the form does not show stays as the document has it.
 */
final readonly class RefreshForm
{
    /** The choice of somebody who writes an expression. */
    public const CRON = 'cron';

    /** What is shown and therefore decided here. */
    private const OWN = ['every', 'zone', 'after', 'when_asked', 'in', 'mode', 'since', 'deleted', 'sweep'];

    /**
     * @param  array<string, mixed>  $form  choice, step, minute, hour, until, days, date, at, cron, zone, after, older_than, wait, in; mode, by, column, send_as, place, format, overlap, window, until_as, marker, deleted_column, deleted_is, sweep
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
            $refresh += ['every' => $every];
        } elseif (isset($was['every'], $form['choice']) && $was['every'] === RefreshTimes::MANUAL) {
            $refresh += ['every' => RefreshTimes::MANUAL];
        }
        $after = array_key_exists('after', $form) ? self::names($text['after']) : ($was['after'] ?? []);
        $in = array_key_exists('in', $form) ? self::names($text['in']) : ($was['in'] ?? []);
        $asked = array_key_exists('older_than', $form) ? self::asked($text) : ($was['when_asked'] ?? []);
        $refresh += ($after === [] ? [] : ['after' => $after]) + ($in === [] ? [] : ['in' => $in]) + ($asked === [] ? [] : ['when_asked' => $asked]);
        $refresh = self::howMuch($form, $text, $was, RefreshFields::table(new EndpointDefinition($endpoint)), array_column(array_filter($endpoint['ask']['inputs'] ?? [], static fn (array $input): bool => ! isset($input['fixed'])), 'name')) + $refresh;
        // It is also the zone in which all of it is read.
        if (isset($refresh['sweep']) || $every !== RefreshTimes::MANUAL) {
            $refresh += $zone === '' || $zone === 'UTC' ? [] : ['zone' => $zone];
        }
        $keep = ($refresh === [] ? [] : ['refresh' => $refresh]) + array_diff_key($endpoint['keep'] ?? [], ['refresh' => 1]);

        return $keep === [] ? array_diff_key($endpoint, ['keep' => 1]) : ['keep' => $keep] + $endpoint;
    }

    /**
     * Whether all of it is read or only what changed, and how that is asked for.
     *
     * @param  array<string, mixed>  $form
     * @param  array<string, string>  $text
     * @param  array<string, mixed>  $was
     * @param  TablePlan|null  $table  the main one
     * @param  list<string>  $inputs  that are no constants
     * @return array<string, mixed>
     */
    private static function howMuch(array $form, array $text, array $was, ?TablePlan $table, array $inputs): array
    {
        if (! array_key_exists('mode', $form)) {
            return array_intersect_key($was, ['mode' => 1, 'since' => 1, 'deleted' => 1, 'sweep' => 1]);
        }
        if ($text['mode'] !== 'incremental') {
            return array_intersect_key($was, ($was['mode'] ?? '') === 'whole' ? ['mode' => 1] : []);
        }
        $by = $text['by'] ?? ($table === null ? 'changed' : IncrementProposal::kind($table));
        if (! isset($was['since']) || $table !== null && Increments::kind($was['since'], $table) !== $by) {
            // Chosen just now: the sheet has no fields for it yet.
            return ['mode' => 'incremental', 'since' => $table === null ? ['send_as' => 'changed_since'] : IncrementProposal::since($by, $table, $inputs)] + array_intersect_key($was, ['deleted' => 1, 'sweep' => 1]);
        }
        if (! array_key_exists('by', $form)) {
            return ['mode' => 'incremental'] + array_intersect_key($was, ['since' => 1, 'deleted' => 1, 'sweep' => 1]);
        }
        $fields = ['changed' => ['column', 'format', 'zone', 'overlap'], 'key' => ['column', 'overlap'], 'window' => ['window', 'until_as', 'format', 'zone'], 'marker' => ['marker']][$by] ?? [];
        $since = ['by' => $by];
        foreach ([...$fields, 'send_as'] as $name) {
            $value = $text[$name === 'zone' ? 'since_zone' : $name] ?? '';
            if ($value !== '' && ! ($name === 'format' && $value === 'iso')) {
                $since[$name] = $name === 'overlap' && ctype_digit($value) ? (int) $value : $value;
            }
        }
        // What follows from the rest is not written, unless it was.
        $since = isset($was['since']['by']) || Increments::kind(array_diff_key($since, ['by' => 1]), $table) !== $by ? $since : array_diff_key($since, ['by' => 1]);
        $since += ($text['place'] ?? '') === 'header' ? ['in' => 'header'] : [];
        $deleted = ($text['deleted_column'] ?? '') === '' ? [] : ['column' => $text['deleted_column']] + self::deletedIs($text['deleted_is'] ?? '', $was['deleted'] ?? []);

        return ['mode' => 'incremental', 'since' => $since] + ($deleted === [] ? [] : ['deleted' => $deleted]) + (($text['sweep'] ?? '') === '' ? [] : ['sweep' => $text['sweep']]);
    }

    /**
     * The value that stays as it was written, also where that is a number or no text.
     *
     * @param  array<string, mixed>  $was
     * @return array{is?: mixed}
     */
    private static function deletedIs(string $text, array $was): array
    {
        $before = $was['is'] ?? null;

        return match (true) {
            $before !== null && $text === (is_bool($before) ? json_encode($before) : (string) $before) => ['is' => $before],
            in_array($text, ['', 'true'], true) => [],
            default => ['is' => $text === 'false' ? false : $text],
        };
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
