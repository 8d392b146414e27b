<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Models\AskedRun;
use App\Models\Consumer;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Run;
use App\Models\RunState;
use App\Runs\Runs;
use Illuminate\Database\UniqueConstraintViolationException;
use Illuminate\Support\Carbon;

/**
 * Refreshes that another system starts, of the tables that its reader was given the right to have refreshed.
 */
final readonly class OutsideControl
{
    public function __construct(private Runs $runs, private AuditLog $log)
    {
    }

    /**
     * @param  string|null  $environment  where the table is; null where the right is to one table of that name alone
     * @param  string|null  $key  the same for the same wish: asked again, it starts nothing
     *
     * @throws FeedProblem
     */
    public function refresh(Consumer $consumer, string $table, ?string $environment, ?string $key): Run
    {
        $kept = $this->table($consumer, $table, $environment);
        $asked = "{$kept->environment->slug}/$kept->name";
        $mark = hash('sha256', $key ?? random_bytes(16));
        $known = AskedRun::query()->with('run')->where(['consumer_id' => $consumer->id, 'mark' => $mark])->first();
        if ($known !== null) {
            return $known->asked_for === $asked ? $known->run : throw new FeedProblem(422, "This Idempotency-Key was used for $known->asked_for.");
        }
        $run = $this->runs->queue($kept->endpoint, $kept->environment, $consumer->user);
        try {
            AskedRun::query()->create(['consumer_id' => $consumer->id, 'run_id' => $run->id, 'mark' => $mark, 'asked_for' => $asked, 'at' => Carbon::now()]);
        } catch (UniqueConstraintViolationException) {
            // The same wish came twice at the same moment; whichever was first has asked for the run.
            return $this->refresh($consumer, $table, $environment, $key);
        }
        $run->wasRecentlyCreated && $this->log->note(Action::RefreshAsked, $asked, "by $consumer->name, run $run->id", $consumer->user);

        return $run;
    }

    /**
     * @throws FeedProblem
     */
    public function run(Consumer $consumer, int $id): Run
    {
        return AskedRun::query()->with('run.environment')->where(['consumer_id' => $consumer->id, 'run_id' => $id])->first()->run ?? throw new FeedProblem(404, "There is no run $id that this key asked for.");
    }

    /**
     * @throws FeedProblem
     */
    private function table(Consumer $consumer, string $table, ?string $environment): KeptTable
    {
        $rights = array_values(array_filter($consumer->refreshes, static fn (string $one): bool => $environment === null ? str_ends_with($one, "/$table") : $one === "$environment/$table"));
        if ($rights === []) {
            throw new FeedProblem(404, "There is no table \"$table\" that this key may have refreshed.");
        }
        if (count($rights) > 1) {
            throw new FeedProblem(400, "Say in which environment, with ?environment=: this key may have $table refreshed in several.", [], 'environment');
        }
        [$slug, $name] = explode('/', $rights[0], 2);
        $kept = KeptTable::query()->with('endpoint', 'environment')->where(['name' => $name, 'is_view' => false, 'environment_id' => Environment::named($slug)?->id])->first();

        return $kept ?? throw new FeedProblem(409, "There is no table $name in $slug now.");
    }

    /**
     * Lines of a form → tables that may be refreshed.
     *
     * @return list<string> as environment/table
     *
     * @throws CannotPublish
     */
    public static function read(string $text): array
    {
        $tables = [];
        foreach (preg_split('/[\s,]+/', $text, -1, PREG_SPLIT_NO_EMPTY) ?: [] as $one) {
            [$slug, $name] = explode('/', $one, 2) + [1 => ''];
            $environment = Environment::named($slug);
            if ($environment === null || ! KeptTable::query()->where(['environment_id' => $environment->id, 'name' => $name, 'is_view' => false])->exists()) {
                throw CannotPublish::because("\"$one\" is no environment and table whose rows are kept, like trial/loans.", 'refreshes');
            }
            $tables[] = $one;
        }

        return array_values(array_unique($tables));
    }

    /**
     * @return array<string, mixed>
     */
    public static function written(Run $run, string $address): array
    {
        return [
            'run' => $run->id, 'state' => $run->state->value, 'address' => $address, 'started' => $run->started_at?->toIso8601ZuluString(), 'ended' => $run->ended_at?->toIso8601ZuluString(),
            'pages' => $run->pages, 'records' => $run->records, 'rows' => $run->rows, 'rejects' => $run->rejects, 'total' => $run->total, 'waits_for' => $run->waits_for,
            'reason' => in_array($run->state, [RunState::Failed, RunState::Stopped], true) ? ($run->diagnosis['what'] ?? $run->ended) : null,
        ];
    }
}
