<?php

declare(strict_types=1);

namespace DeepSpring\Change;

use DeepSpring\Ask\Input;
use DeepSpring\Ask\Place;
use DeepSpring\Check\RowChecks;
use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\ColumnSource;
use DeepSpring\Flatten\ManyValues;
use DeepSpring\Flatten\TablePlan;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SourceFile;

/**
 * How records of a table are changed at the service: `change` of the endpoint that lists them, with the endpoints it
 * names.
 */
final readonly class ChangePlan
{
    /** Records in one request, where nothing else is said. */
    private const TOGETHER = 100;

    private const BATCH = 50;

    /**
     * @param  array<string, Column>  $columns  of the table, by name
     * @param  array<string, mixed>  $settings  `change` of a source file
     * @param  array<string, BoundEndpoint>  $bound  by role: get, create, update, delete
     * @param  list<BoundEndpoint>  $actions
     * @param  array<string, BoundEndpoint>  $together  by role, those that take several records
     */
    private function __construct(public EndpointDefinition $list, public TablePlan $table, public array $columns, private array $settings, private array $bound, public array $actions, private array $together, private RowChecks $checks)
    {
    }

    /**
     * @param  string  $slug  of the endpoint that lists the records
     * @return self|null null where nothing can be changed
     */
    public static function of(SourceFile $file, string $slug): ?self
    {
        $list = $file->endpoint($slug);
        $settings = $list->endpoint['change'] ?? [];
        $plan = $list?->plan();
        if ($list === null || $plan === null || $settings === [] || $plan->table->key === []) {
            return null;
        }
        $bind = static function (array $one) use ($file): ?BoundEndpoint {
            $endpoint = $file->endpoint($one['endpoint']);

            return $endpoint === null ? null : new BoundEndpoint($endpoint, $one['inputs'] ?? [], $one['name'] ?? $endpoint->name, $one['most'] ?? 1, $one['puts'] ?? []);
        };
        $together = array_map(static fn (array $one): ?BoundEndpoint => $bind($one + ['most' => self::TOGETHER]), $settings['together'] ?? []);

        return new self($list, $plan->table, array_column($plan->table->columns, null, 'name'), $settings, array_filter(array_map($bind, array_intersect_key($settings, ['get' => 1, 'create' => 1, 'update' => 1, 'delete' => 1]))), array_values(array_filter(array_map($bind, $settings['actions'] ?? []))), array_filter($together), RowChecks::of($list->endpoint['keep']['checks'] ?? [], $plan));
    }

    public function get(): ?BoundEndpoint
    {
        return $this->bound['get'] ?? null;
    }

    public function endpoint(RecordAct $kind, int $action = 0): ?BoundEndpoint
    {
        return $kind === RecordAct::Call ? $this->actions[$action] ?? null : $this->bound[$kind->value] ?? $this->together[$kind->value] ?? null;
    }

    public function can(RecordAct $kind): bool
    {
        return $kind === RecordAct::Call ? $this->actions !== [] : $this->endpoint($kind) !== null;
    }

    /**
     * The endpoint that does it to several records in one request.
     */
    public function together(RecordAct $kind): ?BoundEndpoint
    {
        return $this->together[$kind->value] ?? null;
    }

    public function travelsTogether(): bool
    {
        return $this->together !== [];
    }

    /**
     * How many requests go into one batch of OData; null where each goes alone.
     */
    public function batch(): ?int
    {
        return isset($this->settings['batch']) ? $this->settings['batch']['most'] ?? self::BATCH : null;
    }

    /**
     * Whether all changes of a batch are done, or none.
     */
    public function isAtomic(): bool
    {
        return ($this->settings['batch']['as_one'] ?? false) === true;
    }

    /**
     * Whether an update carries all columns, changed or not.
     */
    public function sendsAll(): bool
    {
        return ($this->settings['sends'] ?? ($this->endpoint(RecordAct::Update)?->endpoint->ask()->method === 'PUT' ? 'all' : 'changed')) === 'all';
    }

    /**
     * answer, get or nothing: where the row comes from after a write.
     */
    public function after(): string
    {
        return $this->settings['after'] ?? 'answer';
    }

    /**
     * Whether so many changes wait for a second person.
     */
    public function needsApproval(int $rows, string $environment): bool
    {
        $approval = $this->settings['approval'] ?? [];

        return isset($approval['rows']) && $rows > $approval['rows'] || in_array($environment, $approval['in'] ?? [], true);
    }

    /**
     * @return array<string, ChangeableColumn> by name, all columns of the table
     */
    public function changeable(): array
    {
        $all = [];
        $update = $this->inputsByColumn(RecordAct::Update);
        $create = $this->inputsByColumn(RecordAct::Create);
        foreach ($this->columns as $name => $column) {
            $why = $this->why($column);
            $in = $update[$name] ?? null;
            $inUpdate = $why === '' && $in !== null && $in->in !== Place::Path && ! in_array($name, $this->table->key, true) && in_array($name, $this->settings['columns'] ?? [$name], true);
            $inCreate = $why === '' && isset($create[$name]);
            $offered = $this->settings['offered'][$name] ?? null;
            $choices = is_array($offered) && array_is_list($offered) ? array_map(Input::text(...), $offered) : ($in->choices ?? $create[$name]->choices ?? []);
            $all[$name] = new ChangeableColumn(
                $column, $inUpdate, $inCreate,
                $inCreate && $create[$name]->required && $create[$name]->default === null && ! in_array($name, $this->optional(RecordAct::Create), true),
                $inUpdate && $in->in === Place::Body && (! $in->required || in_array($name, $this->optional(RecordAct::Update), true)),
                $choices, isset($offered['table'], $offered['column']) ? ['table' => (string) $offered['table'], 'column' => (string) $offered['column']] : null,
                $inUpdate || $inCreate ? '' : ($why !== '' ? $why : 'No input of an update or a create is filled by it.'),
            );
        }

        return $all;
    }

    /**
     * Why a column can never be changed; empty where it may be.
     */
    private function why(Column $column): string
    {
        return match (true) {
            ! $column->isPlain() => "It is {$column->mask->value}ed here, so nobody sees what would be changed.",
            $column->source !== ColumnSource::From => "It is {$column->origin()}, and not part of the record.",
            ! $column->single && $column->many !== ManyValues::Join => 'It is made of several values of the record.',
            default => '',
        };
    }

    /**
     * Columns that are only needed together: in an object of the body that may be left out.
     *
     * @return list<string>
     */
    private function optional(RecordAct $kind): array
    {
        $bound = $this->endpoint($kind);
        $excused = $bound?->endpoint->ask()->body?->excused([]) ?? [];

        return array_values(array_intersect_key($bound->columns ?? [], array_flip($excused)));
    }

    /**
     * @return array<string, Input> by column
     */
    private function inputsByColumn(RecordAct $kind): array
    {
        $bound = $this->endpoint($kind);
        $inputs = $bound?->inputs() ?? [];
        $found = [];
        foreach ($bound->columns ?? [] as $input => $column) {
            isset($inputs[$input]) && $found[$column] = $inputs[$input];
        }

        return $found;
    }

    /**
     * What a change asks of the service, with all that does not fit in it.
     *
     * @param  BoundEndpoint|null  $bound  another than the one that does it to one record
     */
    public function asked(RecordChange $change, ?BoundEndpoint $bound = null): AskedChange
    {
        $bound ??= $this->endpoint($change->kind, $change->action) ?? throw new \LogicException("Nothing is bound for {$change->kind->value}.");
        $faults = $this->cells($change);
        $values = array_map(static fn (string $one): array => [$one], array_intersect_key($change->given, $bound->inputs()));
        $row = $change->after + $change->before;
        $isWhole = $change->kind !== RecordAct::Update || $this->sendsAll();
        $needed = [];
        foreach ($bound->columns as $name => $column) {
            $input = $bound->inputs()[$name] ?? null;
            if ($input === null || $input->fixed !== null || ! isset($this->columns[$column])) {
                continue;
            }
            $sent = CellText::sent($row[$column] ?? null, $this->columns[$column], $input);
            // A new record says nothing of what it has not.
            $sent = $change->kind === RecordAct::Create && $sent === [Input::NOTHING] ? [] : $sent;
            if ($isWhole || $input->in === Place::Path || array_key_exists($column, $change->after) || in_array($column, $this->table->key, true)) {
                $values[$name] = $sent;
            } elseif (! in_array($sent, [[], [Input::NOTHING]], true)) {
                $needed[$name] = $sent;
            }
        }
        $mark = $bound->mark();
        $values += $mark === null || $change->mark === '' ? [] : [$mark->name => [$change->mark]];
        // Which state is meant is known right before it is sent; until then, whatever the record is then.
        $values += $bound->state() === null ? [] : [$bound->state()->name => ['*']];
        $ask = $bound->endpoint->ask();
        foreach (array_keys($values, [Input::NOTHING], true) as $emptied) {
            // What stays of the same object is sent with it, so that nobody empties more than was meant.
            $values += array_filter($needed, static fn (string $name): bool => $ask->body?->demanded((string) $emptied, [$name]) !== null, ARRAY_FILTER_USE_KEY);
        }
        $wrong = $ask->faults($values);
        // What has to be there together is filled from the row as it is.
        while (array_intersect_key($needed, $wrong) !== []) {
            $values += array_intersect_key($needed, $wrong);
            $needed = array_diff_key($needed, $values);
            $wrong = $ask->faults($values);
        }
        foreach ($wrong as $input => $fault) {
            $column = $bound->columns[$input] ?? '';
            $faults[$column] ??= $column === '' ? $fault->getMessage() : self::sentence($fault->getMessage());
        }

        return new AskedChange($bound, $values, $faults);
    }

    /**
     * What of the values themselves is not possible.
     *
     * @return array<string, string> by column
     */
    private function cells(RecordChange $change): array
    {
        $faults = [];
        $changeable = in_array($change->kind, [RecordAct::Create, RecordAct::Update], true) ? $this->changeable() : [];
        foreach ($changeable === [] ? [] : $change->after as $name => $value) {
            $one = $changeable[$name] ?? null;
            $may = $one !== null && ($change->kind === RecordAct::Create ? $one->inCreate : $one->inUpdate);
            if (! $may) {
                $faults[$name] = $one === null ? 'There is no such column any more.' : ($one->why !== '' ? $one->why : ($change->kind === RecordAct::Create ? 'A new record cannot be given it.' : 'It cannot be changed once the record is there.'));
            } elseif ($value === null && $change->kind === RecordAct::Update && ! $one->mayBeEmptied) {
                $faults[$name] = 'It cannot be emptied.';
            } elseif ($value !== null && $one->choices !== [] && ! in_array($value, $one->choices, true)) {
                $faults[$name] = 'It is none of '.implode(', ', array_slice($one->choices, 0, 12)).(count($one->choices) > 12 ? ', …' : '').'.';
            }
        }

        // What does not fit its column says that first.
        $written = array_diff_key($change->after, $faults);

        return $faults + ($changeable === [] || $written === [] ? [] : $this->checks->broken($change->after + $change->before, array_map(strval(...), array_keys($written))));
    }

    private static function sentence(string $text): string
    {
        if (preg_match('/^The input "[^"]*" needs a value\.$/D', $text) === 1) {
            return 'A value is needed.';
        }
        $text = (string) preg_replace('/^The input "[^"]*" /', 'It ', $text);

        return mb_strtoupper(mb_substr($text, 0, 1)).mb_substr($text, 1);
    }

    /**
     * The values with which one record is got.
     *
     * @param  array<string, string|null>  $row
     * @return array<string, list<string>>|null null where nothing gets one
     */
    public function getting(array $row): ?array
    {
        $get = $this->get();
        if ($get === null) {
            return null;
        }
        $values = [];
        foreach ($get->columns as $name => $column) {
            $input = $get->inputs()[$name] ?? null;
            if ($input !== null && isset($this->columns[$column])) {
                $values[$name] = CellText::sent($row[$column] ?? null, $this->columns[$column], $input);
            }
        }

        return $values;
    }
}
