<?php

declare(strict_types=1);

namespace App\Queries\Live;

use App\Models\Environment;
use App\Models\Principal;
use App\OData\ServiceModels;
use App\Pace\Pacer;
use App\Pace\RateLimitStore;
use App\Pipeline\InputPages;
use App\Pipeline\Lend;
use App\Pipeline\Pipeline;
use App\Pipeline\ReadingFailed;
use App\Pipeline\ReadingStopped;
use App\Pipeline\RowMaker;
use App\Pipeline\SourceConnections;
use App\Queries\QueryRefused;
use App\Reservoir\KeepFailed;
use App\Reservoir\StagedTables;
use App\Reservoir\TableStore;
use App\Transport\Limits;
use DeepSpring\Ask\InputPushdown;
use DeepSpring\Ask\InputSets;
use DeepSpring\Ask\InvalidInput;
use DeepSpring\Flatten\FlattenFailure;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\TablePlan;
use DeepSpring\OData\Derive\Derived;
use DeepSpring\OData\Model\Model;
use DeepSpring\OData\Pushdown\Pushdown;
use DeepSpring\OData\Pushdown\PushedPart;
use DeepSpring\OData\SetChoice;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\Value\SafeNames;

/**
 * Reads tables that are not kept, for one query: only the columns and rows it asks for, as far as the
 * service can be asked for them. They stand in the schema under names of their own until the query ends,
 * and the statement sees them under theirs.
 */
final readonly class LiveReader
{
    /** How owners of stages begin that stand for one statement. */
    public const OWNER = 'live';

    public function __construct(private LiveTables $tables, private ServiceModels $services, private SourceConnections $connections, private RateLimitStore $rates, private TableStore $store)
    {
    }

    /**
     * Null when the statement needs nothing but what is kept.
     *
     * @throws QueryRefused
     */
    public function prepare(Principal $principal, Environment $environment, string $sql): ?LiveQuery
    {
        if (preg_match('/^[\s(]*(?:select|with)\b/i', $sql) !== 1) {
            return null;
        }
        $select = new LiveSelect($sql);
        $words = array_flip($select->words());
        $wanted = [];
        foreach ($this->tables->of($environment) as $table) {
            $names = array_map(static fn (TablePlan $one): string => SafeNames::clean($one->name), $table->plan->tables());
            $isOwn = array_filter($names, static fn (string $name): bool => preg_match('/(?:\bwith|\brecursive|,)\s*`?'.preg_quote($name, '/').'`?\s*(?:\([^)]*\)\s*)?\bas\s*\(/i', $sql) === 1) !== [];
            if (! $isOwn && array_filter($names, static fn (string $name): bool => isset($words[$name])) !== []) {
                $wanted[] = $table;
            }
        }
        if ($wanted === []) {
            return null;
        }
        $results = $stagings = $with = $granted = [];
        try {
            foreach ($wanted as $table) {
                [$result, $staging] = $this->table($table, $select, $words, $principal, $environment);
                $results[] = $result;
                $stagings[] = $staging;
                foreach ($staging->lent() as $lent) {
                    $granted[] = $lent->granted;
                    $with[] = $lent->expression;
                }
            }
        } catch (\Throwable $failed) {
            array_map(static fn (StagedTables $one) => $one->end(), $stagings);

            throw $failed;
        }
        $begins = preg_match('/^(\s*with\s+(?:recursive\s+)?)/i', $sql, $part) === 1 ? $part[1] : 'WITH ';
        $rest = isset($part[1]) ? ', '.substr($sql, strlen($part[1])) : ' '.$sql;

        return new LiveQuery($begins.implode(', ', $with).$rest, $results, $stagings, $granted);
    }

    /**
     * @param  array<string, int>  $words
     * @return array{LiveResult, StagedTables}
     *
     * @throws QueryRefused
     */
    private function table(LiveTable $table, LiveSelect $select, array $words, Principal $principal, Environment $environment): array
    {
        if (! isset($table->definition->endpoint['entity_set'])) {
            return $this->list($table, $select, $principal, $environment);
        }
        $model = $this->services->of($table->source, $environment) ?? $this->services->of($table->source) ?? throw QueryRefused::because("What {$table->source->name} offers has not been read, so {$table->name} cannot be asked for. A builder can read its metadata.");
        [$endpoint, $parts, $columns] = $this->asked($table, $model, $select, $words);
        try {
            return $this->read($table, $endpoint, $parts, $columns, $principal, $environment);
        } catch (CutTooShort) {
            // Some of the rows that were enough did not fit; then all have to be seen.
            unset($endpoint['top'], $endpoint['order']);

            return $this->read($table, $endpoint, array_values(array_filter($parts, static fn (PushedPart $part): bool => ! str_starts_with($part->text, 'limit') && ! str_starts_with($part->text, 'order by'))), $columns, $principal, $environment);
        }
    }

    /**
     * A list whose inputs stand for parts of a query.
     *
     * @return array{LiveResult, StagedTables}
     *
     * @throws QueryRefused
     * @throws CutTooShort
     */
    private function list(LiveTable $table, LiveSelect $select, Principal $principal, Environment $environment): array
    {
        $kept = $table->definition->endpoint['keep']['inputs'] ?? [];
        $push = new InputPushdown($table->definition->ask()->inputs, $table->plan->table, array_map(strval(...), array_keys($kept)));
        $names = array_map(static fn ($column): string => mb_strtolower($column->name), $table->plan->table->columns);
        $parts = [];
        foreach ($select->conditions($table->name, $names) ?? [new PushedPart('its conditions', null, false, 'it stands in the query more than once, or not in its outermost part')] as $one) {
            $parts[] = match (true) {
                $one instanceof PushedPart => $one,
                $one->column === '' || $one->any !== [] => new PushedPart($one->text, null, false, 'it is more than a column compared with a value'),
                // Where rows without a match stay, a condition on them would change which ones there are.
                $select->hasOuterJoin() && $one->operator === 'is null' => new PushedPart($one->text, null, false, 'of a join that keeps rows without a match it would make more rows'),
                default => $push->condition($one),
            };
        }
        $cut = array_filter($parts, static fn (PushedPart $part): bool => $part->asked === null || ! $part->isExact) === [] && $push->readings === [] ? $select->cut($table->name) : null;
        $orders = array_map(static fn (array $one): PushedPart => $push->order($one[0], $one[1]), $cut[1] ?? []);
        array_push($parts, ...$orders);
        if ($cut !== null && $cut[0] > 0 && array_filter($orders, static fn (PushedPart $part): bool => $part->asked === null) === []) {
            $rows = $push->rows($cut[0]);
            $rows === null || $parts[] = $rows;
        }
        $single = static fn (array $values): mixed => count($values) === 1 ? $values[0] : [$values];
        $endpoint = $table->definition->endpoint;
        $endpoint['keep'] = ['inputs' => $kept + array_map($single, $push->values) + array_map(static fn (array $readings): array => array_column($readings, 0), $push->readings)];
        foreach ((new EndpointDefinition($endpoint))->keptWith()->faults() as $fault) {
            throw QueryRefused::because("$table->name cannot be read for this query: {$fault->getMessage()}. Its service wants that in every request: add a condition that an input stands for.");
        }
        try {
            return $this->read($table, $endpoint, $parts, count($names), $principal, $environment);
        } catch (CutTooShort) {
            return $this->read($table, $table->definition->endpoint, array_map(static fn (PushedPart $part): PushedPart => new PushedPart($part->text, null, false, 'rows that did not fit were missing otherwise'), $parts), count($names), $principal, $environment);
        }
    }

    /**
     * The endpoint with what the query asks for on top of what was chosen.
     *
     * @param  array<string, int>  $words
     * @return array{array<string, mixed>, list<PushedPart>, int} the choice, who does what, and how many columns are read
     */
    private function asked(LiveTable $table, Model $model, LiveSelect $select, array $words): array
    {
        $endpoint = $table->definition->endpoint;
        $set = $model->set($endpoint['entity_set']);
        $type = $set === null ? null : $model->typeOf($set);
        $all = count($table->plan->table->columns);
        if ($set === null || $type === null || array_diff((new Derived($model->version, $model))->own($endpoint), ['onward']) !== []) {
            return [$endpoint, [new PushedPart('all of it', null, false, 'the endpoint was changed by hand, so nothing is added to it')], $all];
        }
        $choice = SetChoice::of($endpoint);
        $push = new Pushdown($model, $set, $type, $table->plan->table);
        $names = array_map(static fn ($column): string => mb_strtolower($column->name), $table->plan->table->columns);
        $parts = [];
        foreach ($select->conditions($table->name, $names) ?? [new PushedPart('its conditions', null, false, 'it stands in the query more than once, or not in its outermost part')] as $one) {
            $parts[] = $one instanceof PushedPart ? $one : ($one->column === '' ? new PushedPart($one->text, null, false, 'it is more than a column compared with a value') : $push->condition($one, $select->hasOuterJoin()));
        }
        $filters = array_values(array_filter([$choice->filter === '' ? null : (count(array_filter($parts, static fn (PushedPart $part): bool => $part->asked !== null)) > 0 ? "($choice->filter)" : $choice->filter), ...array_map(static fn (PushedPart $part): ?string => $part->asked, $parts)]));
        $endpoint = array_diff_key($endpoint, array_flip([...Derived::PARTS, 'track', 'filter'])) + ($filters === [] ? [] : ['filter' => implode(' and ', $filters)]);
        $cut = $choice->top === null && $choice->order === '' && array_filter($parts, static fn (PushedPart $part): bool => $part->asked === null || ! $part->isExact) === [] ? $select->cut($table->name) : null;
        if ($cut !== null) {
            $orders = array_map(static fn (array $one): PushedPart => $push->order($one[0], $one[1]), $cut[1]);
            $isExact = array_filter($orders, static fn (PushedPart $part): bool => $part->asked === null) === [];
            array_push($parts, ...$orders);
            if ($isExact && $cut[0] > 0 && $set->can('top')) {
                $endpoint['top'] = $cut[0];
                if ($orders !== []) {
                    $endpoint['order'] = implode(',', array_map(static fn (PushedPart $part): string => (string) $part->asked, $orders));
                }
                $parts[] = new PushedPart("limit $cut[0]", "\$top=$cut[0]", true);
            }
        }
        $used = $select->wantsAll() ? $names : array_values(array_filter($names, static fn (string $name): bool => isset($words[$name])));
        if (count($used) < count($names) && $set->can('select')) {
            // Without any, the key is enough to count by.
            $chosen = $push->select([...$used, ...$table->plan->table->key]);
            $mine = array_values(array_filter($choice->select, static fn (string $path): bool => in_array($path, $chosen, true)));
            $endpoint['select'] = $mine === [] ? $chosen : $mine;
        } else {
            $used = $names;
        }
        $endpoint = $this->withoutBranches($endpoint, $table, $type, $words, $used);

        return [$endpoint, $parts, count($used)];
    }

    /**
     * Related sets come along only when the query names their tables or columns.
     *
     * @param  array<string, mixed>  $endpoint
     * @param  array<string, int>  $words
     * @param  list<string>  $used
     * @return array<string, mixed>
     */
    private function withoutBranches(array $endpoint, LiveTable $table, mixed $type, array $words, array $used): array
    {
        foreach ($endpoint['expand'] ?? [] as $name => $inner) {
            $isUsed = false;
            foreach ($table->plan->table->branches as $branch) {
                if (($branch->from?->names()[0] ?? explode('.', (string) $branch->from)[1] ?? '') === $name || str_starts_with((string) $branch->from, "\$.$name")) {
                    $isUsed = array_filter($branch->all(), static fn (TablePlan $one): bool => isset($words[SafeNames::clean($one->name)])) !== [] || $isUsed;
                }
            }
            foreach ($table->plan->table->columns as $column) {
                $isUsed = $isUsed || ($column->names[0] ?? '') === $name && in_array(mb_strtolower($column->name), $used, true);
            }
            if (! $isUsed) {
                unset($endpoint['expand'][$name]);
            }
        }
        if (($endpoint['expand'] ?? null) === []) {
            unset($endpoint['expand']);
        }

        return $endpoint;
    }

    /**
     * @param  array<string, mixed>  $choice
     * @param  list<PushedPart>  $parts
     * @return array{LiveResult, StagedTables}
     *
     * @throws QueryRefused
     * @throws CutTooShort
     */
    private function read(LiveTable $table, array $choice, array $parts, int $columns, Principal $principal, Environment $environment): array
    {
        $model = isset($choice['entity_set']) ? $this->services->of($table->source) : null;
        $derived = isset($choice['ask']) || $model === null ? $choice : (new Derived($model->version, $model))->filled($choice);
        $definition = new EndpointDefinition(['flatten' => $table->definition->endpoint['flatten']] + $derived);
        $plan = Plan::of($table->definition->endpoint['flatten'], now()->toDateTimeImmutable());
        $staged = $this->store->stage($environment, self::OWNER.bin2hex(random_bytes(5)), $plan);
        $sink = new Lend($staged);
        $begun = microtime(true);
        try {
            $sink->begin();
            $observer = $this->pipe($table, $definition, $plan, $sink, $principal, $environment);
            $isCut = isset($choice['top']) && ! isset($table->definition->endpoint['top']) || array_filter($parts, static fn (PushedPart $part): bool => str_starts_with($part->text, 'limit') && $part->asked !== null) !== [];
            if ($observer->tally->rejects > 0 && $isCut) {
                throw new CutTooShort;
            }
            $sink->finish([]);
        } catch (\Throwable $failed) {
            $sink->end();

            throw $this->refusal($table, $failed) ?? $failed;
        }

        return [new LiveResult($table, $observer->address, $observer->tally->pages, $observer->rows, $observer->tally->rejects, (int) round(1000 * (microtime(true) - $begun)), $parts, $columns), $staged];
    }

    private function pipe(LiveTable $table, EndpointDefinition $definition, Plan $plan, Lend $sink, Principal $principal, Environment $environment): LiveObserver
    {
        $source = $table->file->source();
        $connection = $this->connections->open($table->source, $source, $environment, $principal->person());
        $observer = new LiveObserver($table, $connection, microtime(true) + (int) config('spring.query.live_seconds'), (int) config('spring.query.live_rows'));
        $limits = new Limits($source->pace->timeout, 2, (int) config('spring.limits.answer_bytes'));
        $sets = $definition->keptWith();
        $pages = new InputPages($connection, $definition, $sets, $limits, $observer, fn (): Pacer => new Pacer($this->rates, $table->source->id, $environment->id, $source->pace->forTries(), true));
        $sent = array_map(static fn (array $set): array => InputSets::sent($definition->ask(), $set), $sets->sets);
        (new Pipeline(new RowMaker($plan, $sent), $sink, $observer, $observer->tally))->run($pages->read());

        return $observer;
    }

    private function refusal(LiveTable $table, \Throwable $failed): ?QueryRefused
    {
        return match (true) {
            $failed instanceof ReadingFailed => QueryRefused::because("{$table->name} is read from {$table->source->name} when it is asked for, and that failed. {$failed->diagnosis->what} {$failed->diagnosis->advice}"),
            $failed instanceof ReadingStopped => QueryRefused::because("Reading {$table->name} from {$table->source->name} took longer than ".config('spring.query.live_seconds').' s and was stopped. Narrow it with a condition that the service can be asked for, or have it kept as a table.'),
            $failed instanceof KeepFailed, $failed instanceof FlattenFailure, $failed instanceof InvalidInput => QueryRefused::because($failed->getMessage()),
            default => null,
        };
    }
}
