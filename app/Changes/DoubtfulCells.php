<?php

declare(strict_types=1);

namespace App\Changes;

use App\Models\Change;
use App\Models\KeptTable;
use App\Reservoir\KeepFailed;
use App\Reservoir\TableReader;
use DeepSpring\Change\RecordAct;
use DeepSpring\Check\Checks;
use DeepSpring\Check\InvalidCheck;
use DeepSpring\Check\Refers;
use DeepSpring\Check\TableCheck;
use DeepSpring\Check\Unique;

/**
 * Cells that break a check of the table by what stands in other rows, as far as these are kept: a value that another row
 * has and none may share, or that stands nowhere in the table it refers to. The service may know of newer rows, so it is
 * said, and keeps nothing from being sent.
 */
final readonly class DoubtfulCells
{
    /** @var list<Unique|Refers> */
    private array $rules;

    public function __construct(private ChangeTable $table, private TableReader $reader)
    {
        $list = $table->plan->list;
        $plan = $list->plan();
        try {
            $all = $plan === null ? [] : Checks::all($list->endpoint['keep']['checks'] ?? [], $plan);
        } catch (InvalidCheck) {
            $all = [];
        }
        $rules = array_map(static fn (TableCheck $one): object => $one->check, array_filter($all, static fn (TableCheck $one): bool => $one->table === $table->plan->table->name && $one->on !== TableCheck::NOTE));
        $this->rules = array_values(array_filter($rules, static fn (object $rule): bool => $rule instanceof Unique && ! $rule->isKey || $rule instanceof Refers));
    }

    /**
     * @return array<string, string> column → sentence
     */
    public function of(Change $change): array
    {
        $doubts = [];
        if (! in_array($change->kind, [RecordAct::Create, RecordAct::Update], true)) {
            return [];
        }
        foreach ($this->rules as $rule) {
            $changed = array_values(array_intersect($rule->columns(), array_keys($change->after)));
            $values = array_intersect_key($change->after + $change->before, array_flip($rule->columns()));
            // Of a new record not all is known, and empty ones are not compared.
            if ($changed === [] || array_intersect_key($change->faults, $values) !== [] || count($values) < count($rule->columns()) || in_array(null, $values, true)) {
                continue;
            }
            try {
                $says = $rule instanceof Unique ? $this->shared($change, $values) : $this->unfound($rule, (string) reset($values));
            } catch (KeepFailed) {
                continue;
            }
            $says === null || $doubts[$changed[0]] ??= $says;
        }

        return $doubts;
    }

    /**
     * @param  array<string, string|null>  $values
     */
    private function shared(Change $change, array $values): ?string
    {
        $named = fn (array $of): array => array_combine(array_map(fn (string $name): string => $this->table->names[$name] ?? $name, array_map(strval(...), array_keys($of))), array_values($of));
        $own = $change->key === null ? [] : $this->reader->marksOf($this->table->table, $named($change->key), 1);
        $others = array_diff($this->reader->marksOf($this->table->table, $named($values), 2), $own);
        if ($others === []) {
            return null;
        }
        $row = $this->reader->row($this->table->table, (string) reset($others)) ?? [];

        return 'Another row has the same: '.implode(', ', $this->table->key($this->table->given($row))).'. A check of the table says that none shares it'.$this->asOf($this->table->table);
    }

    private function unfound(Refers $rule, string $value): ?string
    {
        $other = KeptTable::query()->with('environment')->where('environment_id', $this->table->table->environment_id)->where(static fn ($either) => $either->where('given_name', $rule->table)->orWhere('name', $rule->table))->orderBy('id')->first();
        $to = $other === null ? null : array_column($other->columns, 'name', 'given')[$rule->to] ?? null;
        if ($other === null || $to === null || $this->reader->marksOf($other, [$to => $value], 1) !== []) {
            return null;
        }

        return "It is not in $rule->table.$rule->to, where a check of the table says that it stands".$this->asOf($other);
    }

    private function asOf(KeptTable $table): string
    {
        return ', as of '.$table->refreshed_at->format('Y-m-d H:i').' UTC.';
    }
}
