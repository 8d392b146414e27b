<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\CheckOutcome;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Reservoir\CheckCount;
use App\Reservoir\CheckedRows;
use App\Reservoir\TableStore;
use DeepSpring\Check\CheckProposal;
use DeepSpring\Check\CheckProposals;
use DeepSpring\Check\Checks;
use DeepSpring\Check\Found;
use DeepSpring\Check\InvalidCheck;
use DeepSpring\Check\Refers;
use DeepSpring\Check\TableCheck;
use DeepSpring\Check\Unique;
use DeepSpring\Flatten\Plan;
use DeepSpring\Indexing\TableTies;
use DeepSpring\SourceFile\EndpointDefinition;
use Illuminate\Database\QueryException;
use Illuminate\Support\Carbon;

/**
 * Tries checks against the rows that are kept, and proposes others.
 */
final readonly class TriedChecks
{
    /** Seconds that a statement may take. */
    private const LONGEST = 8;

    /** The database's error for a statement that was ended. */
    private const TOO_LONG = 1969;

    /** Rows that are looked at for proposals. */
    private const LOOKED = 50_000;

    /** Rows concerned that are shown. */
    private const SHOWN = 20;

    private const OF_KEY = 'It is the key, so no two rows have it in common. A run counts the records that come with one that is there already.';

    /** Percent of values that have to be found for a proposal. */
    private const FOUND = 90;

    public function __construct(private TableStore $store)
    {
    }

    /**
     * @return list<TriedCheck>|string in their order; or why none can be tried
     */
    public function try(Endpoint $endpoint, EndpointDefinition $definition, Plan $plan, Environment $environment): array|string
    {
        $rows = $this->rows($endpoint, $environment);
        if ($rows === null) {
            return 'The table is not kept in '.$environment->name.' yet. Once it is, every check is tried against its rows here, before it counts.';
        }
        try {
            $now = Carbon::now()->toDateTimeImmutable();
            $checks = array_values(array_filter(Checks::all($definition->endpoint['keep']['checks'] ?? [], $plan, $now), static fn (TableCheck $one): bool => $one->number !== null));
        } catch (InvalidCheck $invalid) {
            return $invalid->getMessage();
        }
        $counts = $this->counts($rows, $checks);

        return array_map(fn (TableCheck $check, CheckCount $count): TriedCheck => $this->tried($rows, $check, $count, $now), $checks, $counts);
    }

    /**
     * Rules that hold in the rows that are kept, and are not there yet.
     *
     * @return list<CheckProposal>
     */
    public function proposals(Endpoint $endpoint, EndpointDefinition $definition, Plan $plan, Environment $environment): array
    {
        $rows = $this->rows($endpoint, $environment);
        if ($rows === null) {
            return [];
        }
        $there = $definition->endpoint['keep']['checks'] ?? [];
        $proposals = [];
        try {
            $marks = array_map(static fn (TableCheck $one): string => $one->mark, Checks::all($there, $plan));
            foreach ($plan->tables() as $table) {
                $more = $table === $plan->table ? [] : ['table' => $table->name];
                foreach ([...CheckProposals::of($rows->seen($table->name, self::LOOKED), $table->key, Carbon::now()->toDateTimeImmutable()), ...$this->references($rows, $table->name, $plan, $environment, $endpoint)] as $one) {
                    $settings = self::withoutThose($one->settings, $there, $more['table'] ?? null);
                    if ($settings !== null && ! in_array(Checks::all([$settings + $more], $plan)[0]->mark, $marks, true)) {
                        $proposals[] = new CheckProposal($settings + $more, $one->why);
                    }
                }
            }
        } catch (InvalidCheck|QueryException) {
            return $proposals;
        }

        return $proposals;
    }

    /**
     * A proposal without columns of which the same is said already; null where nothing is left.
     *
     * @param  array<string, mixed>  $settings
     * @param  list<array<string, mixed>>  $there
     * @return array<string, mixed>|null
     */
    private static function withoutThose(array $settings, array $there, ?string $table): ?array
    {
        $kind = array_key_first($settings);
        foreach ($there as $one) {
            if (! isset($one[$kind]) || ($one['table'] ?? null) !== $table) {
                continue;
            }
            if ($kind === 'never_empty') {
                $settings[$kind] = array_values(array_diff($settings[$kind], $one[$kind]));
            } elseif ($settings[$kind] === $one[$kind]) {
                return null;
            }
        }

        return $settings[$kind] === [] ? null : $settings;
    }

    /**
     * @return list<CheckProposal>
     */
    private function references(CheckedRows $rows, string $table, Plan $plan, Environment $environment, Endpoint $endpoint): array
    {
        $others = [];
        foreach (KeptTable::query()->where('environment_id', $environment->id)->where('endpoint_id', '!=', $endpoint->id)->get() as $kept) {
            $key = count($kept->key) === 1 ? collect($kept->keptColumns())->firstWhere('name', $kept->key[0]) : null;
            $key === null || $others[$kept->given_name] = ['key' => $key->given, 'type' => $key->type];
        }
        $columns = [];
        foreach ($plan->tables() as $one) {
            foreach ($one->name === $table ? $one->columns : [] as $column) {
                $columns[$column->name] = $column->kept->name();
            }
        }
        $proposals = [];
        foreach (TableTies::toKeys($columns, $others) as $tie) {
            $settings = ['refers' => $tie->columns[0], 'to' => "$tie->other.{$others[$tie->other]['key']}"];
            $check = Checks::all([$settings + ($table === $plan->table->name ? [] : ['table' => $table])], $plan)[0];
            $count = $check->check instanceof Refers ? $rows->count([$check])[0] : CheckCount::unknown('');
            $found = $count->looked === null || $count->looked === 0 ? 0.0 : 100 * ($count->looked - $count->broken) / $count->looked;
            if ($count->unknown === null && $found >= self::FOUND) {
                $proposals[] = new CheckProposal($settings + ($count->broken === 0 ? [] : ['covers' => (int) floor($found)]), $check->check->held(new Found($table, $count->rows, $count->broken, Carbon::now()->toDateTimeImmutable(), $count->looked)));
            }
        }

        return $proposals;
    }

    private function rows(Endpoint $endpoint, Environment $environment): ?CheckedRows
    {
        $tables = KeptTable::query()->where('endpoint_id', $endpoint->id)->where('environment_id', $environment->id)->orderBy('is_branch')->orderBy('id')->get()->all();

        return $tables === [] ? null : $this->store->checked($environment, array_values($tables), self::LONGEST);
    }

    /**
     * @param  list<TableCheck>  $checks
     * @return list<CheckCount>
     */
    private function counts(CheckedRows $rows, array $checks): array
    {
        try {
            return $rows->count($checks);
        } catch (QueryException|\PDOException $refused) {
            $why = (int) ($refused->errorInfo[1] ?? 0) === self::TOO_LONG ? 'Looking at the rows that are there took longer than '.self::LONGEST.' s; a run takes its time.' : 'The database did not look at the rows that are there: '.mb_strimwidth((string) ($refused->errorInfo[2] ?? $refused->getMessage()), 0, 200, '…', 'UTF-8').'.';

            return array_map(static fn (): CheckCount => CheckCount::unknown($why), $checks);
        }
    }

    private function tried(CheckedRows $rows, TableCheck $check, CheckCount $count, \DateTimeImmutable $now): TriedCheck
    {
        $found = new Found($check->table, $count->rows, $count->broken, $now, $count->looked, $count->newest);
        $broken = $count->unknown === null ? $check->check->broken($found) : null;
        try {
            $concerned = $broken === null ? [] : $rows->concerned($check, self::SHOWN);
        } catch (QueryException|\PDOException) {
            $concerned = [];
        }

        return new TriedCheck($check->number, $check->words(), match (true) {
            $count->unknown !== null => CheckOutcome::Unknown, $broken !== null => CheckOutcome::Broken, default => CheckOutcome::Held,
        }, $count->unknown ?? $broken ?? ($check->check instanceof Unique && $check->check->isKey ? self::OF_KEY : $check->check->held($found)), $concerned);
    }
}
