<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Drift;

use DeepSpring\Flatten\ColumnSource;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\TablePlan;
use DeepSpring\Value\Phrase;

/**
 * Two pictures → what changed between them, as far as it matters to a plan.
 */
final readonly class Changes
{
    /** Records that must have been looked at before something counts as gone. */
    private const ENOUGH = 10;

    /** Rows that make a set of values one that is closed. */
    private const ROWS = 40;

    /**
     * @param  list<string>  $leftOut  paths that are left out for good
     */
    public function __construct(private Plan $plan, private array $leftOut = [])
    {
    }

    /**
     * @return list<FieldChange>
     */
    public function between(DataProfile $before, DataProfile $now): array
    {
        return [...$this->newFields($before, $now), ...$this->gone($before, $now), ...$this->types($before, $now), ...$this->values($before, $now)];
    }

    /**
     * @return list<FieldChange>
     */
    private function newFields(DataProfile $before, DataProfile $now): array
    {
        $changes = $outer = [];
        $used = $this->used();
        foreach ($now->fields as $path => $seen) {
            if (isset($before->fields[$path]) || isset($used[$path]) || $this->isLeftOut($path) || self::isBelow($path, $outer)) {
                continue;
            }
            // Where columns read from below it already, only what else is below it is new.
            if (array_filter(array_keys($used), static fn (string $one): bool => self::isBelow($one, [$path])) !== []) {
                continue;
            }
            $outer[] = $path;
            $below = count(array_filter(array_keys($now->fields), static fn (string $other): bool => self::isBelow($other, [$path])));
            $changes[] = new FieldChange(ChangeKind::NewField, $this->tableOf($path), $path, "A new field $path".($below > 0 ? ", with $below below it" : '').', in '.self::share($seen['times'], $now->looked).'.', $seen['examples']);
        }

        return $changes;
    }

    /**
     * @return list<FieldChange>
     */
    private function gone(DataProfile $before, DataProfile $now): array
    {
        $changes = $outer = [];
        if ($now->looked < self::ENOUGH) {
            return [];
        }
        foreach ($this->used() as $path => $columns) {
            $was = $before->fields[$path] ?? null;
            if ($was === null || $was['times'] < max(2, 0.02 * $before->looked) || isset($now->fields[$path]) || self::isBelow($path, $outer)) {
                continue;
            }
            $outer[] = $path;
            $changes[] = new FieldChange(ChangeKind::FieldGone, explode('.', $columns[0])[0], $path, "The field $path is gone; it was in ".self::share($was['times'], $before->looked).' before. '.implode(', ', $columns).(count($columns) === 1 ? ' is' : ' are').' empty.', $was['examples']);
        }

        return $changes;
    }

    /**
     * @return list<FieldChange>
     */
    private function types(DataProfile $before, DataProfile $now): array
    {
        $changes = [];
        foreach ($now->fields as $path => $seen) {
            $was = $before->fields[$path]['kinds'] ?? [];
            $new = array_values(array_diff($seen['kinds'], $was));
            if ($was === [] || $new === [] || $this->isLeftOut($path)) {
                continue;
            }
            $changes[] = new FieldChange(ChangeKind::OtherType, $this->tableOf($path), $path, "$path was ".implode(' or ', $was).' before, and is '.implode(' or ', $seen['kinds']).' now.', $seen['examples']);
        }

        return $changes;
    }

    /**
     * @return list<FieldChange>
     */
    private function values(DataProfile $before, DataProfile $now): array
    {
        $changes = [];
        foreach ($now->columns as $table => $columns) {
            $rows = $now->rows[$table] ?? 0;
            foreach ($columns as $column => $measure) {
                $was = $before->columns[$table][$column] ?? null;
                $wereRows = $before->rows[$table] ?? 0;
                // What a person changed in the plan is no change of the data.
                $isOther = isset($was['made'], $measure['made']) && $was['made'] !== $measure['made'];
                if ($was === null || $isOther || $wereRows < self::ROWS || $rows === 0) {
                    continue;
                }
                if ($was['values'] !== null && $was['values'] !== [] && $wereRows >= 4 * count($was['values'])) {
                    $new = array_values(array_diff($measure['values'] ?? [], $was['values']));
                    if ($new !== [] || $measure['values'] === null) {
                        $changes[] = new FieldChange(ChangeKind::NewValue, (string) $table, (string) $column, "$table.$column had ".(count($was['values']) === 1 ? 'one value' : count($was['values']).' values').' so far ('.implode(', ', array_slice($was['values'], 0, 6)).'), and has '.($measure['values'] === null ? 'more different ones than are listed, or longer ones' : (count($new) === 1 ? 'a new one' : count($new).' new ones')).'.', array_slice($new, 0, 5));
                    }
                } elseif ($was['longest'] > 0 && $measure['longest'] > max(1.5 * $was['longest'], $was['longest'] + 20)) {
                    $changes[] = new FieldChange(ChangeKind::LongerText, (string) $table, (string) $column, "$table.$column has a text of ".Phrase::count($measure['longest'], 'byte')."; the longest was {$was['longest']}.");
                }
                if ($measure['empty'] === $rows && $was['empty'] < 0.9 * $wereRows && $rows >= self::ENOUGH) {
                    $changes[] = new FieldChange(ChangeKind::Emptied, (string) $table, (string) $column, "$table.$column is empty in all ".Phrase::count($rows, 'row')."; it was in {$was['empty']} of $wereRows before.");
                }
            }
        }

        return $changes;
    }

    /**
     * Paths that columns read, from the record, and which columns those are.
     *
     * @return array<string, list<string>>
     */
    public function used(): array
    {
        $used = [];
        $this->collect($this->plan->table, '$', $used);

        return $used;
    }

    /**
     * @param  array<string, list<string>>  $used
     */
    private function collect(TablePlan $table, string $at, array &$used): void
    {
        foreach ($table->columns as $column) {
            if ($column->source === ColumnSource::From && $column->path !== null) {
                $used[self::plain($at.substr($column->path->text, 1))][] = "{$table->name}.{$column->name}";
            }
        }
        foreach ($table->branches as $branch) {
            $below = self::plain($at.substr((string) $branch->from, 1));
            $this->collect($branch, $below, $used);
        }
    }

    /**
     * The table whose elements hold a path.
     */
    private function tableOf(string $path): string
    {
        return $this->deepest($this->plan->table, '$', $path);
    }

    private function deepest(TablePlan $table, string $at, string $path): string
    {
        foreach ($table->branches as $branch) {
            $below = self::plain($at.substr((string) $branch->from, 1));
            if ($branch->from !== null && ! $branch->isSplit() && self::isBelow($path, [$below])) {
                return $this->deepest($branch, $below, $path);
            }
        }

        return $table->name;
    }

    private function isLeftOut(string $path): bool
    {
        return in_array($path, $this->leftOut, true) || self::isBelow($path, $this->leftOut);
    }

    /**
     * @param  list<string>  $above
     */
    private static function isBelow(string $path, array $above): bool
    {
        foreach ($above as $one) {
            if (str_starts_with($path, "$one.") || str_starts_with($path, "{$one}[")) {
                return true;
            }
        }

        return false;
    }

    /**
     * Without filters and places: what a picture calls the same path.
     */
    private static function plain(string $path): string
    {
        $path = (string) preg_replace(['/\[\?(?:[^\[\]"\']++|"(?:[^"\\\\]|\\\\.)*+"|\'(?:[^\'\\\\]|\\\\.)*+\'|\[[^\]]*\])*+\]/', '/\[-?\d+\]/'], '[*]', $path);

        return (string) preg_replace("/\['([A-Za-z_]\w*)'\]/", '.$1', $path);
    }

    private static function share(int $times, int $of): string
    {
        return $times >= $of ? ($of === 1 ? 'the one record that was looked at' : 'all '.Phrase::count($of, 'record').' that were looked at') : "$times of ".Phrase::count($of, 'record').' that were looked at';
    }
}
