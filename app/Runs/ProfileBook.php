<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\KeptTable;
use App\Models\TableProfile;
use App\Reservoir\KeepFailed;
use App\Reservoir\TableProfiles;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Support\Carbon;

/**
 * Has the columns of kept tables looked at after they were refreshed, and remembers what they were like.
 */
final readonly class ProfileBook
{
    /** Minutes between two looks at a table that is refreshed all the time. */
    public const APART = 10;

    /** Looks that are remembered of a table. */
    private const REMEMBERED = 60;

    /** Seconds of a statement. */
    private const LONGEST = 30;

    public function __construct(private TableProfiles $profiles)
    {
    }

    public static function isAnythingDue(): bool
    {
        return self::due()->exists();
    }

    /**
     * Looks at what was refreshed since the look before.
     *
     * @param  float  $seconds  after which no other table is begun
     * @return int tables
     */
    public function takeDue(float $seconds = 50): int
    {
        $until = microtime(true) + $seconds;
        $taken = 0;
        foreach (self::due()->with('environment')->orderBy('refreshed_at')->limit(200)->get() as $table) {
            if (microtime(true) > $until) {
                break;
            }
            try {
                $this->take($table);
                $taken++;
            } catch (KeepFailed) {
                // It is tried again with the next refresh, and not every minute.
                TableProfile::query()->create(['environment_id' => $table->environment_id, 'endpoint_id' => $table->endpoint_id, 'table' => $table->name, 'run_id' => $table->run_id, 'rows' => $table->rows, 'columns' => [], 'milliseconds' => 0, 'at' => Carbon::now()]);
            }
        }

        return $taken;
    }

    /**
     * @throws KeepFailed
     */
    public function take(KeptTable $table): TableProfile
    {
        $begun = hrtime(true);
        [$rows, $columns] = $this->profiles->take($table, self::LONGEST);
        $profile = TableProfile::query()->create([
            'environment_id' => $table->environment_id, 'endpoint_id' => $table->endpoint_id, 'table' => $table->name, 'run_id' => $table->run_id, 'rows' => $rows,
            'columns' => array_map(get_object_vars(...), $columns), 'milliseconds' => (int) round((hrtime(true) - $begun) / 1e6), 'at' => Carbon::now(),
        ]);
        $last = TableProfile::of($table)->skip(self::REMEMBERED)->value('id');
        $last === null || TableProfile::query()->where(['environment_id' => $table->environment_id, 'table' => $table->name])->where('id', '<=', $last)->delete();

        return $profile;
    }

    /**
     * @return Builder<KeptTable>
     */
    private static function due(): Builder
    {
        $since = Carbon::now()->subMinutes(self::APART)->format('Y-m-d H:i:s.u');

        return KeptTable::query()->where('run_id', '!=', null)
            ->whereRaw('not exists (select 1 from table_profiles p where p.environment_id = kept_tables.environment_id and p.`table` = kept_tables.name and (p.run_id = kept_tables.run_id or p.at > ?))', [$since]);
    }
}
