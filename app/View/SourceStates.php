<?php

declare(strict_types=1);

namespace App\View;

use App\Models\Tryout;
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
        $rows = DB::table('tries')->whereIn('source_id', $sources)
            ->selectRaw('source_id, environment_id, max(id) as last, max(case when succeeded then id end) as proven, max(case when succeeded then created_at end) as proven_at')
            ->groupBy('source_id', 'environment_id')->get();
        foreach ($rows as $row) {
            $last = Tryout::query()->find($row->last);
            if ($last === null) {
                continue;
            }
            $since = $last->succeeded ? null : Tryout::query()->where('source_id', $row->source_id)->where('environment_id', $row->environment_id)->where('id', '>', (int) $row->proven)->orderBy('id')->value('created_at');
            $states[(int) $row->source_id][(int) $row->environment_id] = new SourceState($last, $row->proven_at === null ? null : Carbon::parse((string) $row->proven_at, 'UTC'), $since === null ? null : Carbon::parse((string) $since));
        }

        return $states;
    }
}
