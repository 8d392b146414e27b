<?php

declare(strict_types=1);

namespace App\Http\Shaping;

use App\Http\Editing\Asked;
use App\Http\Endpoints\EndpointForm;
use App\Http\Endpoints\FlattenTables;
use DeepSpring\Flatten\Proposal\Proposer;
use DeepSpring\Flatten\Shaping;
use DeepSpring\SourceFile\InvalidSourceFile;

/**
 * What the shaping page sends: one step, and what it is about.
 */
final readonly class ShapeForm
{
    public ?ShapeStep $step;

    /**
     * @param  array<string, mixed>  $fields  all that was sent
     */
    public function __construct(private Asked $asked, private array $fields)
    {
        $this->step = ShapeStep::tryFrom($asked->text('do'));
    }

    /**
     * @param  array<string, mixed>  $was  the `flatten` as it is
     * @param  list<mixed>  $records
     * @param  string  $table  a name for a new one
     * @return array<string, mixed>
     *
     * @throws InvalidSourceFile when it cannot be done
     */
    public function apply(array $was, array $records, string $table, ShapeHistory $history): array
    {
        if ($this->step?->isOfHistory() !== true && ($this->step === ShapeStep::Propose || $was === [])) {
            $proposal = (new Proposer($this->asked->text('prefix') !== 'no'))->propose($records, (string) ($was['table'] ?? $table))->flatten;

            return $records === [] ? $was : $proposal + array_intersect_key($was, ['leave_out' => 1]);
        }
        $asked = $this->asked;
        $table = $asked->number('table');
        $column = $asked->number('column');
        $shaping = new Shaping($was, $records);

        return match ($this->step) {
            ShapeStep::Undo => $history->undo($was) ?? $was,
            ShapeStep::Redo => $history->redo($was) ?? $was,
            ShapeStep::AddField => $shaping->add($asked->text('path'), $asked->text('at') === '' ? null : $asked->number('at')),
            ShapeStep::AddLeaves => $shaping->add($asked->text('path'), null, true),
            ShapeStep::ExcludeField => $shaping->exclude($asked->text('path')),
            ShapeStep::MoveColumn => $shaping->move($table, $column, (int) $asked->text('to')),
            ShapeStep::DropColumn => $shaping->drop($table, $column),
            ShapeStep::RenameColumn => $shaping->rename($table, $column, $asked->text('name')),
            ShapeStep::ComputeColumn => $shaping->compute($table, $asked->text('name'), $asked->text('expression')),
            ShapeStep::Prefix => $shaping->prefix($table, $asked->text('with') === 'yes'),
            ShapeStep::Split => $shaping->split(),
            ShapeStep::MakeKey => $shaping->makeKey($table),
            ShapeStep::DropTable => $table === 0 ? $was : FlattenTables::change($was, $table, static fn (array $one): ?array => null),
            ShapeStep::SetTable => $shaping->at($table, $this->tableSettings(...)),
            ShapeStep::SetColumn => $shaping->at($table, fn (array $one): array => $this->columnSettings($one, $column)),
            ShapeStep::Propose, null => $was,
        };
    }

    /**
     * @param  array<string, mixed>  $one
     * @return array<string, mixed>
     */
    private function tableSettings(array $one): array
    {
        $one['table'] = $this->asked->text('name') ?: $one['table'];
        $where = $this->asked->text('where');
        unset($one['where']);
        foreach (['title', 'owner', 'comment'] as $field) {
            if (array_key_exists($field, $this->fields)) {
                unset($one[$field]);
                $one += array_filter([$field => $this->asked->text($field)], static fn (string $said): bool => $said !== '');
            }
        }

        return $where === '' ? $one : $one + ['where' => $where];
    }

    /**
     * @param  array<string, mixed>  $one
     * @return array<string, mixed>
     */
    private function columnSettings(array $one, int $number): array
    {
        $column = $one['columns'][$number] ?? null;
        if ($column === null) {
            return $one;
        }
        $changed = (new EndpointForm(['name' => 'x', 'ask' => []]))->columnOf($this->fields, $column);
        if (array_key_exists('key', $this->fields)) {
            $key = array_values(array_diff($one['key'] ?? [], [$column['name']]));
            $chosen = [...$key, ...($this->asked->text('key') === '1' ? [$column['name']] : [])];
            // In the order of the columns, which is how people read them.
            $one['key'] = array_values(array_intersect(array_column($one['columns'], 'name'), $chosen));
        }
        $one['columns'][$number] = $changed;

        return $one;
    }
}
