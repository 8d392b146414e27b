<?php

declare(strict_types=1);

namespace App\Http\Shaping;

use App\Evidence\SampledRecords;
use App\Models\Endpoint;
use App\Models\Environment;
use App\View\Show;
use DeepSpring\Answer\RecordPage;
use DeepSpring\Flatten\ColumnSource;
use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\FlattenFailure;
use DeepSpring\Flatten\Mask\Masks;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Proposal\RecordField;
use DeepSpring\Flatten\Proposal\SampledValues;
use DeepSpring\Flatten\Proposal\Shapes;
use DeepSpring\Flatten\RowBatch;
use DeepSpring\Flatten\TablePlan;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SourceFile;

/**
 * What the shaping page shows: the fields of the sampled records, the columns made of them, and the
 * rows that these give.
 */
final class ShapeSheet
{
    /** Records whose rows are shown. */
    private const SHOWN = 40;

    private const MOST_FIELDS = 1200;

    /** @var list<mixed> */
    public readonly array $records;

    public readonly ?Plan $plan;

    /** @var list<FieldNode> */
    public readonly array $fields;

    public int $fieldCount = 0;

    /** What all sampled records become. */
    public readonly ?RowBatch $batch;

    public readonly ?string $fault;

    /** @var array<string, list<array{record: int, row: list<string|null>}>> rows of the first records, by table */
    public readonly array $rows;

    /** @var array<string, int> "table.column" → values that did not fit */
    public readonly array $rejects;

    public readonly RecordPage $page;

    /** @var array<string, list<string>> path inside the record → ids of columns */
    private array $uses = [];

    /** @var array<string, string> path of an array → its table */
    private array $branches = [];

    public function __construct(private readonly Masks $masks, public readonly Endpoint $row, public readonly SourceFile $file, public readonly EndpointDefinition $definition, public readonly Environment $environment)
    {
        $this->page = SampledRecords::of($row, $definition, $environment);
        $this->records = $this->page->values;
        $this->plan = $definition->plan(now()->toDateTimeImmutable());
        if ($this->plan !== null) {
            $number = 0;
            $this->collect($this->plan->table, '$', $number);
        }
        $field = new RecordField;
        foreach ($this->page->written() as $record) {
            $field->take($record);
        }
        $this->fields = $this->nodes($field, '$');
        [$this->batch, $this->fault] = $this->flatten($this->page);
        $rejects = [];
        foreach ($this->batch->rejects ?? [] as $reject) {
            $at = "$reject->table.$reject->column";
            $rejects[$at] = ($rejects[$at] ?? 0) + 1;
        }
        $this->rejects = $rejects;
        $this->rows = $this->shown();
    }

    /**
     * Counts by which two plans are compared on the same records.
     *
     * @return array{rows: array<string, int>, rejected: int, filtered: int}|null null when the plan stops at a value
     */
    public function counts(): ?array
    {
        if ($this->plan === null || $this->batch === null) {
            return null;
        }
        $rows = [];
        foreach ($this->plan->tables() as $number => $table) {
            $rows[$table->name] = count($this->batch->rows[$number]);
        }

        return ['rows' => $rows, 'rejected' => $this->batch->rejected, 'filtered' => $this->batch->filtered];
    }

    /**
     * What stands in a column: two of its values that differ, as they are shown.
     *
     * @param  int  $column  its place in the table
     * @param  string  $type  that it is kept as
     * @return list<string>
     */
    public function samples(string $table, int $column, string $type): array
    {
        $values = array_filter(array_map(static fn (array $one): ?string => $one['row'][$column] ?? null, $this->rows[$table] ?? []), static fn (?string $value): bool => $value !== null);

        return array_map(static fn (string $value): string => $value === '' ? '""' : mb_strimwidth(Show::value($value, $type), 0, 26, '…'), array_slice(array_values(array_unique($values)), 0, 2));
    }

    /**
     * @return array{RowBatch|null, string|null}
     */
    private function flatten(RecordPage $page): array
    {
        if ($this->plan === null || $page->values === []) {
            return [null, null];
        }
        $inputs = array_map(static fn (array $values): string => implode(',', $values), $this->definition->ask()->tryValues());
        try {
            return [(new Flattener($this->plan, $inputs, $this->masks))->flatten($page), null];
        } catch (FlattenFailure $failure) {
            return [null, $failure->getMessage()];
        }
    }

    /**
     * @return array<string, list<array{record: int, row: list<string|null>}>>
     */
    private function shown(): array
    {
        $rows = [];
        foreach ($this->batch === null ? [] : array_keys(array_slice($this->records, 0, self::SHOWN)) as $index) {
            [$batch] = $this->flatten($this->page->only($index));
            foreach ($this->plan?->tables() ?? [] as $number => $table) {
                foreach ($batch->rows[$number] ?? [] as $row) {
                    $rows[$table->name][] = ['record' => $index, 'row' => $row];
                }
            }
        }

        return $rows;
    }

    private function collect(TablePlan $table, string $at, int &$number): void
    {
        $own = $number++;
        foreach ($table->columns as $place => $column) {
            if ($column->source === ColumnSource::From && $column->path !== null) {
                $path = $at.substr($column->path->text, 1);
                $this->uses[str_ends_with($path, '[*]') ? substr($path, 0, -3) : $path][] = "t$own-c$place";
                // One of a list of names and values is seen at its list.
                if (preg_match('/^(.*)\[\?/sU', $path, $part) === 1) {
                    $this->uses[$part[1]][] = "t$own-c$place";
                }
            }
        }
        foreach ($table->branches as $branch) {
            $from = $at.substr((string) $branch->from, 1);
            $this->branches[$from] = $branch->name;
            $this->collect($branch, $from, $number);
        }
    }

    /**
     * @return list<FieldNode>
     */
    private function nodes(RecordField $field, string $path): array
    {
        $nodes = [];
        $isDictionary = $path !== '$' && $field->members !== [] && (new Shapes)->isDictionary($field);
        foreach ($isDictionary ? ['*' => $field->anyMember()] : $field->members as $name => $member) {
            if ($this->fieldCount++ >= self::MOST_FIELDS) {
                break;
            }
            $at = $isDictionary ? "$path.*" : $path.RecordField::step($name);
            $nodes[] = $this->node($member, $at, $isDictionary ? 'each of '.count($field->members) : (string) $name, $isDictionary ? $member->present() : $field->objects);
        }

        return $nodes;
    }

    private function node(RecordField $field, string $path, string $name, int $of): FieldNode
    {
        $stats = $field->stats();
        $below = $this->nodes($field, $path);
        $branch = $this->branches[$path] ?? null;
        $kind = match (true) {
            $field->isArray() => 'list of '.(min($field->lengths) === max($field->lengths) ? max($field->lengths) : min($field->lengths).' to '.max($field->lengths)),
            $field->isObject() => count($below) === 1 ? '1 field' : count($below).' fields',
            ! $field->isScalar() => 'mixed',
            $stats->filled === 0 => 'empty',
            $stats->booleans === $stats->filled => 'true or false',
            $stats->isNumber() => $stats->floats > 0 ? 'number' : 'whole number',
            $stats->isText() => 'text',
            default => 'mixed',
        };
        if ($field->element !== null && $field->element->present() > 0) {
            $branch ??= $this->branches["{$path}[*]"] ?? null;
            $below = [...$below, ...$this->nodes($field->element, "{$path}[*]")];
        }
        $examples = $field->isArray() && $field->element !== null ? SampledValues::examples(array_slice($field->element->values, 0, 50)) : SampledValues::examples(array_slice($field->values, 0, 200));

        return new FieldNode($path, $name, $kind, $field->present(), $of, $stats->nulls, $examples, $this->uses[$path] ?? [], $below, $branch);
    }
}
