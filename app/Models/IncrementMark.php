<?php

declare(strict_types=1);

namespace App\Models;

use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SettingsFingerprint;
use DeepSpring\SourceFile\SourceDefinition;
use DeepSpring\Value\JsonSubtrees;
use Illuminate\Support\Carbon;

/**
 * From where the next increment of an endpoint begins.
 *
 * @property int $id
 * @property int $endpoint_id
 * @property int $environment_id
 * @property string $fingerprint of what was asked for, what it became, and how changes are asked for
 * @property string $mark sealed, since services hand out what they like
 * @property Carbon $updated_at
 */
final class IncrementMark extends Record
{
    protected $guarded = [];

    /**
     * The mark of an endpoint, when its tables are there and were made of what is asked for now.
     */
    public static function of(Run $run, EndpointDefinition $endpoint, SourceDefinition $source): ?self
    {
        $where = ['endpoint_id' => $run->endpoint_id, 'environment_id' => $run->environment_id];
        $mark = self::query()->where($where + ['fingerprint' => self::print($run, $endpoint, $source)])->first();

        return $mark !== null && KeptTable::query()->where($where)->exists() ? $mark : null;
    }

    /**
     * @param  string|null  $mark  sealed; null where everything has to be read the next time
     */
    public static function remember(Run $run, EndpointDefinition $endpoint, SourceDefinition $source, ?string $mark): void
    {
        $where = ['endpoint_id' => $run->endpoint_id, 'environment_id' => $run->environment_id];
        if ($mark === null || strlen($mark) > 60_000) {
            self::query()->where($where)->delete();

            return;
        }
        self::query()->updateOrCreate($where, ['fingerprint' => self::print($run, $endpoint, $source), 'mark' => $mark, 'updated_at' => Carbon::now()]);
    }

    private static function print(Run $run, EndpointDefinition $endpoint, SourceDefinition $source): string
    {
        $refresh = array_intersect_key($endpoint->endpoint['keep']['refresh'] ?? [], ['mode' => 1, 'since' => 1, 'deleted' => 1]);

        return hash('xxh128', SettingsFingerprint::ofTable($endpoint->endpoint, $source, $run->environment->slug).JsonSubtrees::canonical($refresh));
    }
}
