<?php

declare(strict_types=1);

namespace App\Queries\Keeping;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\KeptColumn;
use App\Models\KeptTable;
use App\Models\QueryKeep;
use App\Models\Run;
use App\Models\SavedQuery;
use App\Models\Source;
use App\Models\SourceDocument;
use App\Models\User;
use App\Queries\QueryFault;
use App\Queries\QueryRefused;
use App\Queries\SqlGuard;
use App\Queries\StatementValues;
use App\Reservoir\KeepFailed;
use App\Reservoir\TableShape;
use App\Reservoir\Views;
use App\Runs\Runs;
use App\Runs\TableRemoval;
use DeepSpring\Schedule\InvalidSchedule;
use DeepSpring\Schedule\RefreshTimes;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\SourceFile\SourceFile;
use DeepSpring\Value\SafeNames;
use Illuminate\Database\UniqueConstraintViolationException;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;

/**
 * Makes saved queries readable as tables: as a view, which is answered each time it is read, or as rows of
 * their own, which are refreshed like those of any endpoint. Behind each stands a source of its own that
 * nobody sees, so runs, times, checks, history, profiles and lookups know nothing of queries.
 */
final readonly class QueryKeeping
{
    public function __construct(private Views $views, private ResultShape $shape, private Runs $runs, private TableRemoval $removal, private AuditLog $log)
    {
    }

    /**
     * @throws CannotKeep
     */
    public function asView(SavedQuery $query, Environment $environment, string $name, User $by): QueryKeep
    {
        [$keep, $columns] = $this->prepared($query, $environment, $name, true);
        $this->defined($keep, $query->user, ViewParameters::written($name, $query->sql, $query->parameters ?? [], $query->user), $columns);

        return $this->written($keep, $query, $columns, [], [], $by, true);
    }

    /**
     * @param  list<string>  $key  names of columns
     * @param  array<string, mixed>  $refresh  as `keep.refresh` of a source file; empty for whenever something it reads was refreshed
     * @param  array{column: string, back: string}|null  $period  in which rows can still change; null where all of them can
     * @return array{QueryKeep, Run}
     *
     * @throws CannotKeep
     */
    public function asTable(SavedQuery $query, Environment $environment, string $name, array $key, array $refresh, User $by, ?array $period = null): array
    {
        [$keep, $columns] = $this->prepared($query, $environment, $name, false);
        $keep->period = $period === null ? null : KeptPeriod::checked($period, $columns)->toArray();
        $unknown = array_diff($key, array_column($columns, 'name'));
        if ($unknown !== []) {
            throw CannotKeep::because('The query gives no column "'.reset($unknown).'". It gives '.implode(', ', array_column($columns, 'name')).'.', 'key');
        }
        try {
            RefreshTimes::of($refresh);
        } catch (InvalidSchedule $invalid) {
            throw CannotKeep::because($invalid->getMessage(), 'every', $invalid);
        }
        $keep = $this->written($keep, $query, $columns, $key, $refresh === [] ? ['after' => $keep->reads] : $refresh, $by, false);

        return [$keep, $this->runs->queue($keep->endpoint(), $environment, $by)];
    }

    /**
     * What is kept of a query says what the query says now.
     *
     * @return list<string> what could not follow, and why
     */
    public function follow(SavedQuery $query, User $by): array
    {
        $faults = [];
        foreach ($query->keeps()->with('environment', 'source')->get() as $keep) {
            try {
                $endpoint = $keep->source->published()?->endpoint(QueryKeep::ENDPOINT)->endpoint ?? [];
                $refresh = $endpoint['keep']['refresh'] ?? [];
                // Where it followed all that it read, it follows all that it reads now.
                $follows = array_keys($refresh) === ['after'] && $refresh['after'] === $keep->reads || $refresh === [];
                $keep->is_view
                    ? $this->asView($query, $keep->environment, $keep->name, $by)
                    : $this->asTable($query, $keep->environment, $keep->name, $endpoint['flatten']['key'] ?? [], $follows ? [] : $refresh, $by, $keep->period);
            } catch (CannotKeep $cannot) {
                $faults[] = "$keep->name in {$keep->environment->name} still says what version $keep->version said: {$cannot->getMessage()}";
            }
        }

        return $faults;
    }

    /**
     * @throws CannotKeep while it is being read
     */
    public function stop(QueryKeep $keep, User $by): void
    {
        if ($keep->is_view) {
            KeptTable::query()->where(['environment_id' => $keep->environment_id, 'name' => $keep->name])->delete();
            $this->views->drop($keep->environment, $keep->name);
        } else {
            try {
                $this->removal->remove($keep->endpoint(), $keep->environment);
            } catch (KeepFailed $failed) {
                throw CannotKeep::because($failed->getMessage(), 'name', $failed);
            }
        }
        $keep->source->delete();
        $this->log->note(Action::QueryNotKept, $keep->savedQuery->name, "$keep->name in {$keep->environment->name}", $by);
    }

    /**
     * Views that are not there, after the database was brought back from a backup for one, and what is wrong
     * with those that are.
     */
    public function alignViews(Environment $environment): void
    {
        foreach (QueryKeep::query()->with(['savedQuery.user', 'environment'])->where(['environment_id' => $environment->id, 'is_view' => true])->orderBy('id')->get() as $keep) {
            try {
                $this->views->exists($environment, $keep->name) || $this->made($keep);
                $this->shape->of($keep->savedQuery->user, $environment, "select * from `$keep->name`");
                $fault = null;
            } catch (CannotKeep|QueryRefused $cannot) {
                $fault = $cannot->getMessage();
            }
            if ($fault !== $keep->fault) {
                $keep->fill(['fault' => $fault === null ? null : mb_substr($fault, 0, 1000)])->save();
            }
        }
    }

    /**
     * @return array{QueryKeep, list<array<string, mixed>>} not saved yet, and the columns
     *
     * @throws CannotKeep
     */
    private function prepared(SavedQuery $query, Environment $environment, string $name, bool $isView): array
    {
        if ($query->is_private) {
            throw CannotKeep::because('Only you can see this query, and a table can be read by everybody. Share the query first.', 'name');
        }
        if (trim($name) === '') {
            throw CannotKeep::because('Give it a name that queries can read it by.', 'name');
        }
        $safe = SafeNames::clean($name);
        if ($safe !== $name) {
            throw CannotKeep::because("A table cannot be called \"$name\" here: Latin letters in lower case, digits and underscores. Call it $safe, for example.", 'name');
        }
        $keep = QueryKeep::query()->where(['query_id' => $query->id, 'environment_id' => $environment->id])->first() ?? new QueryKeep(['query_id' => $query->id, 'environment_id' => $environment->id, 'is_view' => $isView, 'name' => $name]);
        if ($keep->exists && ($keep->is_view !== $isView || $keep->name !== $name)) {
            throw CannotKeep::because("The query is kept as $keep->name already. Stop that first.", 'name');
        }
        $there = KeptTable::query()->with('endpoint.source')->where(['environment_id' => $environment->id, 'name' => $name])->first();
        if ($there !== null && (! $keep->exists || $there->endpoint->source_id !== $keep->source_id)) {
            throw CannotKeep::because("There is a table $name in $environment->name already, kept by {$there->endpoint->source->name} › {$there->endpoint->name}. Give this one another name.", 'name');
        }
        try {
            $sql = self::statement($query->sql, $query->parameters ?? [], $query->user);
        } catch (QueryRefused $refused) {
            throw CannotKeep::because($refused->getMessage(), previous: $refused);
        }
        if (preg_match('/^(?:\s|\()*(?:select|with|values)\b/i', self::withoutComments($sql)) !== 1) {
            throw CannotKeep::because('Only rows of a SELECT can be kept, not what SHOW, DESCRIBE or EXPLAIN say.');
        }
        $order = new ReadingOrder($environment);
        $reads = $order->readBy($sql);
        $circle = $order->circle($name, $reads);
        if ($circle !== null) {
            throw CannotKeep::because('That would go round in a circle: '.self::circle($circle).'.');
        }
        $keep->fill(['reads' => $reads]);

        return [$keep, $this->shape->of($query->user, $environment, $sql)];
    }

    /**
     * What is kept reads with the values that stand for none.
     *
     * @param  array<string, array{kind: string, default: string|null, choices: list<string>, many: bool}>  $settings
     *
     * @throws QueryRefused
     */
    private static function statement(string $sql, array $settings, User $owner): string
    {
        return SqlGuard::checked(StatementValues::bound($sql, $settings, [], $owner)->sql);
    }

    /**
     * A view that is not there.
     *
     * @throws CannotKeep
     * @throws QueryRefused
     */
    private function made(QueryKeep $keep): void
    {
        $said = $keep->said();
        $sql = self::statement($said->sql, $said->parameters ?? [], $keep->savedQuery->user);
        $this->defined($keep, $keep->savedQuery->user, ViewParameters::written($keep->name, $said->sql, $said->parameters ?? [], $keep->savedQuery->user), $this->shape->of($keep->savedQuery->user, $keep->environment, $sql));
    }

    /**
     * @param  list<string>  $circle
     */
    private static function circle(array $circle): string
    {
        $steps = [];
        for ($at = 1; $at < count($circle); $at++) {
            $steps[] = $at === 1 ? "{$circle[0]} would read {$circle[1]}" : "which reads $circle[$at]";
        }

        return implode(', ', $steps);
    }

    private static function withoutComments(string $sql): string
    {
        return (string) preg_replace('~/\*.*?\*/|--(?=\s)[^\n]*|#[^\n]*~s', ' ', $sql);
    }

    /**
     * @param  list<array<string, mixed>>  $columns
     *
     * @throws CannotKeep
     */
    private function defined(QueryKeep $keep, User $owner, string $sql, array $columns): void
    {
        try {
            $this->views->define($owner, $keep->environment, $keep->name, array_column($columns, 'name'), $sql);
        } catch (\PDOException $refused) {
            throw CannotKeep::because(QueryFault::of($refused, $keep->environment, $sql)->sentence, previous: $refused);
        }
    }

    /**
     * @param  list<array<string, mixed>>  $columns
     * @param  list<string>  $key
     * @param  array<string, mixed>  $refresh
     *
     * @throws CannotKeep
     */
    private function written(QueryKeep $keep, SavedQuery $query, array $columns, array $key, array $refresh, User $by, bool $isView): QueryKeep
    {
        try {
            return DB::transaction(function () use ($keep, $query, $columns, $key, $refresh, $by, $isView): QueryKeep {
                $slug = "query-$query->id-$keep->environment_id";
                $source = Source::query()->lockForUpdate()->where('slug', $slug)->first() ?? Source::query()->create(['slug' => $slug, 'name' => 'Queries', 'of_query' => true, 'owner_id' => $query->user_id]);
                $file = $this->file($keep, $query, $slug, QueryTexts::carried($columns, $source, $keep, $query), $key, $refresh);
                if ($source->published()?->says($file) !== true) {
                    $version = ($source->published_version ?? 0) + 1;
                    $source->documents()->create(['version' => $version, 'author_id' => $by->id] + SourceDocument::columns($file));
                    $source->fill(['published_version' => $version])->save();
                }
                $endpoint = Endpoint::query()->updateOrCreate(['source_id' => $source->id, 'slug' => QueryKeep::ENDPOINT], ['name' => $query->name]);
                $isNew = ! $keep->exists;
                $keep->fill(['source_id' => $source->id, 'version' => $query->version, 'fault' => null])->save();
                if ($isView) {
                    $this->show($keep, $endpoint, $file);
                }
                $isNew && $this->log->note(Action::QueryKept, $query->name, ($isView ? 'as a view ' : 'as a table ')."$keep->name in {$keep->environment->name}", $by);

                return $keep;
            });
        } catch (UniqueConstraintViolationException $taken) {
            throw CannotKeep::because("$keep->name was taken by somebody else a moment ago.", 'name', $taken);
        }
    }

    /**
     * A view is listed and granted like a table.
     */
    private function show(QueryKeep $keep, Endpoint $endpoint, SourceFile $file): void
    {
        $plan = $file->endpoint(QueryKeep::ENDPOINT)?->plan() ?? throw new \LogicException('A view has columns.');
        $columns = array_map(static fn (KeptColumn $one): array => $one->toArray(), (new TableShape($plan->table))->columns);
        KeptTable::query()->updateOrCreate(['environment_id' => $keep->environment_id, 'name' => $keep->name], [
            'endpoint_id' => $endpoint->id, 'is_branch' => false, 'is_view' => true, 'given_name' => $keep->name, 'columns' => $columns, 'key' => [], 'rows' => 0, 'refreshed_at' => Carbon::now(),
        ]);
    }

    /**
     * @param  list<array<string, mixed>>  $columns
     * @param  list<string>  $key
     * @param  array<string, mixed>  $refresh
     *
     * @throws CannotKeep
     */
    private function file(QueryKeep $keep, SavedQuery $query, string $slug, array $columns, array $key, array $refresh): SourceFile
    {
        try {
            return SourceFile::of([
                'deepspring' => 1,
                'source' => ['slug' => $slug, 'name' => 'Queries', 'about' => "Version $query->version of the query", 'kind' => 'rest', 'environments' => [$keep->environment->slug => ['base' => 'https://queries.invalid']]],
                'endpoints' => [[
                    'slug' => QueryKeep::ENDPOINT, 'name' => $query->name, 'does' => 'list', 'ask' => ['method' => 'GET', 'path' => "/$keep->name"],
                    'flatten' => ['table' => $keep->name, 'columns' => $columns] + ($key === [] ? [] : ['key' => $key]),
                ] + ($refresh === [] ? [] : ['keep' => ['refresh' => $refresh]])],
            ]);
        } catch (InvalidSourceFile $invalid) {
            throw CannotKeep::because(ucfirst($invalid->faults[0]->message).'.', 'name', $invalid);
        }
    }
}
