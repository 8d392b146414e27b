<?php

declare(strict_types=1);

namespace App\View;

use App\Models\Tryout;
use Illuminate\Database\Query\Builder;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;

/**
 * How sources fare in each environment, from their tries.
 */
final class SourceStates
{
    /**
     * @param  list<int>  $sources
     * @return array<int, array<int, SourceState>> by source and environment
     */
    public static function of(array $sources): array
    {
        $states = [];
        $rows = self::telling(DB::table('tries'))->whereIn('source_id', $sources)
            ->selectRaw('source_id, environment_id, max(id) as last, max(case when succeeded then id end) as proven, max(case when succeeded then created_at end) as proven_at')
            ->groupBy('source_id', 'environment_id')->get();
        foreach ($rows as $row) {
            $last = Tryout::query()->find($row->last);
            if ($last === null) {
                continue;
            }
            $since = $last->succeeded ? null : self::telling(Tryout::query()->toBase())->where('source_id', $row->source_id)->where('environment_id', $row->environment_id)->where('id', '>', (int) $row->proven)->orderBy('id')->value('created_at');
            $states[(int) $row->source_id][(int) $row->environment_id] = new SourceState($last, $row->proven_at === null ? null : Carbon::parse((string) $row->proven_at, 'UTC'), $since === null ? null : Carbon::parse((string) $since));
        }

        return $states;
    }

    /**
     * Tries that tell something of the source itself: its own tests, and of those of an endpoint what
     * succeeded or failed at the address or the authentication. An endpoint that the service refuses for
     * want of a right (403), or in which something is wrong, says nothing of the others; nor does one that
     * was not sent, unless it is for want of a consent.
     */
    private static function telling(Builder $tries): Builder
    {
        return $tries->where(static fn (Builder $either) => $either->where('succeeded', true)->orWhereNull('endpoint_id')
            ->orWhere(static fn (Builder $failed) => $failed->whereRaw("json_value(diagnosis, '$.where') in ('address', 'access')")->whereRaw("json_value(diagnosis, '$.code') not like '403%'")
                ->where(static fn (Builder $known) => $known->whereRaw("json_value(diagnosis, '$.code') = 'consent'")->orWhereExists(static fn (Builder $sent) => $sent->from('exchanges')->whereColumn('exchanges.try_id', 'tries.id')))));
    }
}
