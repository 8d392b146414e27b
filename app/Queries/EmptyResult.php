<?php

declare(strict_types=1);

namespace App\Queries;

use App\Models\Environment;
use App\Models\Principal;
use DeepSpring\Sql\Build\CannotBuild;
use DeepSpring\Sql\Build\HowCompared;
use DeepSpring\Sql\Build\PickedCondition;
use DeepSpring\Sql\Build\SelectText;

/**
 * Why a statement has no rows, as far as asking for less of it tells: which of its conditions no row fits, and what is
 * there instead.
 */
final readonly class EmptyResult
{
    private const CONDITIONS = 8;

    /** Seconds for all of it. */
    private const SECONDS = 6;

    public function __construct(private QueryRunner $runner)
    {
    }

    /**
     * @return list<string> sentences; none where nothing can be said
     */
    public function reasons(Principal $principal, Environment $environment, string $sql): array
    {
        try {
            $select = SelectText::of($sql);
            $bare = $select->with('select', ['1'], false)->with('group', [])->with('having', [])->with('window', [])->with('order', [])->with('limit', ['1']);
        } catch (CannotBuild) {
            return [];
        }
        $conditions = $select->items['where'] ?? [];
        $until = microtime(true) + self::SECONDS;
        $has = function (array $where) use ($bare, $principal, $environment, $until): ?bool {
            return microtime(true) > $until ? null : $this->one($principal, $environment, $bare->with('where', $where)->sql()) !== null;
        };
        try {
            if ($has([]) === false) {
                return [isset($select->items['from'][1]) ? 'The joined tables have no row in common, whatever the conditions are.' : 'The table has no rows.'];
            }
            if ($conditions === [] || count($conditions) > self::CONDITIONS) {
                return [];
            }
            if ($has($conditions) === true) {
                return ['Rows fit the conditions; none is left by HAVING or LIMIT.'];
            }
            $sentences = [];
            foreach ($conditions as $condition) {
                if ($has([$condition]) === false) {
                    $sentences[] = "No row fits $condition.".$this->instead($principal, $environment, $select, $condition);
                }
            }

            return $sentences !== [] || count($conditions) === 1 ? $sentences : $this->together($conditions, $has);
        } catch (QueryRefused|CannotBuild) {
            return [];
        }
    }

    /**
     * Each alone has rows: two of them that have none together, where there are such.
     *
     * @param  list<string>  $conditions
     * @param  \Closure(list<string>): ?bool  $has
     * @return list<string>
     */
    private function together(array $conditions, \Closure $has): array
    {
        foreach ($conditions as $number => $one) {
            foreach (array_slice($conditions, $number + 1) as $other) {
                if (count($conditions) > 2 && $has([$one, $other]) === false) {
                    return ["Rows fit $one, and rows fit $other, but none fits both."];
                }
            }
        }

        return ['Rows fit each of the conditions alone, but none fits all of them.'];
    }

    /**
     * A value that is written in another way, or the ends of what is there.
     *
     * @throws QueryRefused
     * @throws CannotBuild
     */
    private function instead(Principal $principal, Environment $environment, SelectText $select, string $condition): string
    {
        $picked = PickedCondition::of($condition);
        if ($picked->column === null || $picked->values === [] || str_contains($picked->column, '(')) {
            return '';
        }
        $base = $select->with('group', [])->with('having', [])->with('window', [])->with('order', []);
        if ($picked->how === HowCompared::Equal && ! is_numeric($picked->values[0])) {
            $letters = static fn (string $of): string => "regexp_replace(lower($of), '[^[:alnum:]]+', '')";
            $given = "'".strtr($picked->values[0], ['\\' => '\\\\', "'" => "''"])."'";
            $there = $this->one($principal, $environment, $base->with('select', [$picked->column], false)->with('where', [$letters($picked->column).' = '.$letters($given)])->with('limit', ['1'])->sql());

            return $there === null ? '' : " There is \"$there\", which is written in another way.";
        }
        if (in_array($picked->how, [HowCompared::Less, HowCompared::AtMost, HowCompared::More, HowCompared::AtLeast, HowCompared::Between], true)) {
            $ends = $this->row($principal, $environment, $base->with('select', ["min($picked->column)", "max($picked->column)"], false)->with('where', [])->with('limit', [])->sql());

            return $ends === null || $ends[0] === null ? '' : " What is there goes from $ends[0] to $ends[1].";
        }

        return '';
    }

    /**
     * @throws QueryRefused
     */
    private function one(Principal $principal, Environment $environment, string $sql): ?string
    {
        return $this->row($principal, $environment, $sql)[0] ?? null;
    }

    /**
     * @return list<string|null>|null
     *
     * @throws QueryRefused
     */
    private function row(Principal $principal, Environment $environment, string $sql): ?array
    {
        foreach ($this->runner->stream($principal, $environment, $sql, self::SECONDS)->rows as $row) {
            return $row;
        }

        return null;
    }
}
