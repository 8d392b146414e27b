<?php

declare(strict_types=1);

namespace App\Http\Changes;

use App\Changes\ChangeTable;
use App\Models\Change;
use App\Models\KeptColumn;
use App\View\Show;
use DeepSpring\Change\ChangeState;
use DeepSpring\Change\RecordAct;
use Illuminate\Support\HtmlString;

/**
 * A row of the grid: what is kept, and what shall be.
 */
final readonly class GridRow
{
    /**
     * @param  string  $id  its mark in the table, or "new-7"
     * @param  array<string, string|null>  $row  as kept, by names of the source file; empty for a new one
     * @param  array<string, string>  $faults  by column; "" for the whole
     * @param  string  $zone  in which moments are typed
     * @param  string|null  $done  since when it was changed, and no refresh has confirmed it
     */
    public function __construct(public ChangeTable $table, public string $id, public array $row, public ?Change $change, public array $faults, public string $zone = 'UTC', public ?string $done = null)
    {
    }

    public function class(): string
    {
        return match (true) {
            $this->change === null => $this->done === null ? '' : 'done',
            $this->change->kind === RecordAct::Create => 'new',
            $this->change->kind === RecordAct::Delete => 'gone',
            default => '',
        };
    }

    public function isChanged(string $column): bool
    {
        return $this->change !== null && $this->change->kind === RecordAct::Update && array_key_exists($column, $this->change->after);
    }

    public function value(string $column): ?string
    {
        return $this->change !== null && array_key_exists($column, $this->change->after) ? $this->change->after[$column] : $this->row[$column] ?? null;
    }

    public function shown(KeptColumn $column): HtmlString
    {
        $value = $this->value($column->given);

        return isset($this->faults[$column->given]) && $value !== null ? new HtmlString(e($value)) : Show::cell($value, $column->type);
    }

    /**
     * What the editor of a cell begins with.
     */
    public function typed(KeptColumn $column): string
    {
        if ($column->type === 'text' && $this->value($column->given) === '') {
            return '""';
        }
        $value = (string) $this->value($column->given);
        if ($value === '' || isset($this->faults[$column->given])) {
            return $value;
        }

        return match ($column->type) {
            'datetime' => (new \DateTimeImmutable($value, new \DateTimeZone('UTC')))->setTimezone(new \DateTimeZone($this->zone))->format('Y-m-d H:i:s'),
            'boolean' => $value === '1' ? 'yes' : 'no',
            'decimal' => str_contains($value, '.') ? rtrim(rtrim($value, '0'), '.') : $value,
            default => $value,
        };
    }

    public function mayEdit(string $column): bool
    {
        $one = $this->table->changeable[$column] ?? null;

        return $one !== null && ($this->change?->kind === RecordAct::Create ? $one->inCreate : $one->inUpdate);
    }

    /**
     * What is said at the end of the row.
     */
    public function says(): string
    {
        if ($this->change === null) {
            return $this->done === null ? '' : "sent $this->done, not yet read again";
        }
        $change = $this->change;
        if ($change->state !== ChangeState::Pending) {
            return trim(match ($change->state) {
                ChangeState::Refused => 'refused: ', ChangeState::Conflict => '', ChangeState::Unknown => 'unknown: ', default => '',
            }.($change->reason ?? $change->state->value));
        }
        $fault = $this->faults[''] ?? (($column = array_key_first($this->faults)) === null ? null : "$column: {$this->faults[$column]}");
        if ($fault !== null) {
            return $fault;
        }
        if ($change->kind === RecordAct::Update) {
            $was = array_map(fn (string $name): string => count($change->after) === 1 ? 'was '.strip_tags((string) Show::cell($change->before[$name] ?? null, $this->table->plan->columns[$name]->type->name())) : $name, array_map(strval(...), array_keys($change->after)));

            return mb_strimwidth(implode(', ', $was), 0, 60, '…');
        }

        return $change->kind === RecordAct::Call ? 'calls '.($this->table->plan->actions[$change->action]->name ?? 'something that is gone') : $change->kind->words();
    }

    public function isBad(): bool
    {
        return $this->faults !== [] || in_array($this->change?->state, [ChangeState::Refused, ChangeState::Conflict, ChangeState::Unknown], true);
    }
}
