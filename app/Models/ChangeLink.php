<?php

declare(strict_types=1);

namespace App\Models;

use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SettingsFingerprint;
use DeepSpring\SourceFile\SourceDefinition;
use Illuminate\Support\Carbon;

/**
 * Where a service says what changed since a run that read everything (OData 4.01 part 1 §11.3).
 *
 * @property int $id
 * @property int $endpoint_id
 * @property int $environment_id
 * @property string $fingerprint of what was asked for, and of what it became
 * @property string $link sealed, since services repeat in it what they were sent
 * @property Carbon $updated_at
 */
final class ChangeLink extends Record
{
    protected $guarded = [];

    /**
     * The link of an endpoint, when its tables are there and were made of what is asked for now.
     */
    public static function of(Run $run, EndpointDefinition $endpoint, SourceDefinition $source): ?self
    {
        if (($endpoint->endpoint['track'] ?? false) !== true) {
            return null;
        }
        $link = self::query()->where(['endpoint_id' => $run->endpoint_id, 'environment_id' => $run->environment_id, 'fingerprint' => self::print($run, $endpoint, $source)])->first();

        return $link !== null && KeptTable::query()->where('endpoint_id', $run->endpoint_id)->where('environment_id', $run->environment_id)->exists() ? $link : null;
    }

    /**
     * @param  string|null  $link  null when the service gave none
     */
    public static function remember(Run $run, EndpointDefinition $endpoint, SourceDefinition $source, ?string $link): void
    {
        $where = ['endpoint_id' => $run->endpoint_id, 'environment_id' => $run->environment_id];
        $link === null || strlen($link) > 60_000 ? self::query()->where($where)->delete() : self::query()->updateOrCreate($where, ['fingerprint' => self::print($run, $endpoint, $source), 'link' => $link]);
    }

    /**
     * The link in the last answer of a list.
     */
    public static function in(mixed $document): ?string
    {
        $link = $document instanceof \stdClass ? $document->{'@odata.deltaLink'} ?? $document->{'@deltaLink'} ?? null : null;

        return is_string($link) && $link !== '' ? $link : null;
    }

    private static function print(Run $run, EndpointDefinition $endpoint, SourceDefinition $source): string
    {
        return SettingsFingerprint::ofTable($endpoint->endpoint, $source, $run->environment->slug);
    }
}
