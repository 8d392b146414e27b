<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

use DeepSpring\Sql\Build\ColumnUse;

/**
 * Statements of common questions, made from what a table has: its names, amounts and times, what belongs to
 * it, and the states that are kept of it.
 */
final class Examples
{
    private const NAMES = ['text', 'boolean'];

    /** Words in names of columns that hold another value in each row, as a rule. */
    private const SINGLE = ['ref', 'code', 'id', 'number', 'phone', 'email', 'note', 'notes', 'remarks', 'title', 'url', 'address', 'description', 'comment'];

    private const AMOUNTS = ['decimal', 'float', 'integer'];

    private const DAYS = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'];

    private const MOMENTS = ['date', 'datetime'];

    /** @var list<Example> */
    private array $all = [];

    private ?string $name;

    private ?string $amount;

    private ?string $moment;

    /**
     * @param  array<string, string>  $columns  name → type of a source file
     * @param  list<string>  $key
     * @param  list<JoinTie>  $ties
     * @param  list<string>  $states  names of tables with earlier states, the newest first
     */
    private function __construct(private readonly string $table, private readonly array $columns, private readonly array $key, array $ties, array $states)
    {
        $own = array_diff_key($columns, array_flip($key));
        $grouping = array_filter($own, static fn (string $name): bool => array_intersect(explode('_', $name), self::SINGLE) === [], ARRAY_FILTER_USE_KEY);
        $this->name = $this->first($grouping, self::NAMES) ?? $this->first($own, self::NAMES) ?? $this->first($columns, self::NAMES);
        $this->moment = $this->first($columns, self::MOMENTS);
        $this->amount = $this->first(array_filter($own, static fn (string $type, string $name): bool => preg_match('/(?:^|_)(?:id|no|number|code|year|week)$/', $name) !== 1, ARRAY_FILTER_USE_BOTH), self::AMOUNTS);
        $this->counts();
        $this->times();
        foreach ($ties as $tie) {
            $this->without($tie);
        }
        foreach (array_slice($states, 0, 1) as $state) {
            $this->difference($state);
        }
    }

    /**
     * @param  array<string, string>  $columns
     * @param  list<string>  $key
     * @param  list<JoinTie>  $ties
     * @param  list<string>  $states
     * @return list<Example>
     */
    public static function of(string $table, array $columns, array $key, array $ties, array $states): array
    {
        return (new self($table, $columns, $key, $ties, $states))->all;
    }

    private function counts(): void
    {
        $shown = implode(', ', array_slice([...$this->key, ...array_filter([$this->name])], 0, 4));
        if ($this->name !== null) {
            $sum = $this->amount === null ? '' : ", sum($this->amount) as total";
            $this->add("Top ten of $this->name", "select $this->name, count(*) as n$sum\nfrom $this->table\ngroup by $this->name\norder by ".($sum === '' ? 'n' : 'total')." desc\nlimit 10");
            $this->add("Values of $this->name that are there more than once", "select $this->name, count(*) as n\nfrom $this->table\ngroup by $this->name\nhaving n > 1\norder by n desc");
        }
        if ($this->amount !== null) {
            $this->add("Top ten by $this->amount", 'select '.($shown === '' ? '' : "$shown, ")."$this->amount\nfrom $this->table\norder by $this->amount desc\nlimit 10");
            if ($this->name !== null) {
                $this->add("Share of each $this->name in $this->amount", "select $this->name, sum($this->amount) as total,\n       round(100 * sum($this->amount) / nullif(sum(sum($this->amount)) over (), 0), 1) as percent\nfrom $this->table\ngroup by $this->name\norder by total desc");
            }
        }
    }

    private function times(): void
    {
        if ($this->moment === null) {
            return;
        }
        $sum = $this->amount === null ? '' : ", sum($this->amount) as total";
        $this->add('Per month', "select date_format($this->moment, '%Y-%m') as month, count(*) as n$sum\nfrom $this->table\ngroup by month\norder by month");
        $this->add('Per week, a column for each day of the week', 'select '.ColumnUse::Week->sql((string) $this->moment)." as week,\n       ".implode(', ', array_map(fn (string $day, int $number): string => "sum(weekday($this->moment) = $number) as $day", self::DAYS, array_keys(self::DAYS)))."\nfrom $this->table\nwhere $this->moment is not null\ngroup by week\norder by week");
        $this->everyDay($sum);
        $this->periods();
        $this->add('Per ISO week', "select date_format($this->moment, '%x-W%v') as week, count(*) as n$sum\nfrom $this->table\ngroup by week\norder by week");
        if ($this->amount !== null) {
            $this->add("Running total of $this->amount", "select $this->moment, $this->amount,\n       sum($this->amount) over (order by $this->moment rows unbounded preceding) as so_far\nfrom $this->table\norder by $this->moment\nlimit 1000");
            $this->add("Change of $this->amount to the row before", "select $this->moment, $this->amount,\n       $this->amount - lag($this->amount) over (order by $this->moment) as changed\nfrom $this->table\norder by $this->moment\nlimit 1000");
        }
        if ($this->name !== null) {
            $this->add("The latest of each $this->name", "select *\nfrom (select t.*, row_number() over (partition by $this->name order by $this->moment desc) as place\n      from $this->table t) ranked\nwhere place = 1");
        }
    }

    /**
     * With days on which nothing happened. They are counted off by digits, since MariaDB ends a recursion after a thousand
     * steps without a word ("max_recursive_iterations").
     */
    private function everyDay(string $sum): void
    {
        $digits = implode(' union all ', array_map(static fn (int $digit): string => 'select '.$digit.($digit === 0 ? ' as d' : ''), range(0, 9)));
        $this->add('Per day, with days without any', "with digits as ($digits),\n     span as (select date(min($this->moment)) as begins, date(max($this->moment)) as ends from $this->table),\n     days as (select begins + interval a.d + 10 * b.d + 100 * c.d + 1000 * e.d day as day, ends\n              from span cross join digits a cross join digits b cross join digits c cross join digits e)\nselect days.day, coalesce(found.n, 0) as n".($sum === '' ? '' : ', found.total')."\nfrom days\nleft join (select date($this->moment) as day, count(*) as n$sum\n           from $this->table\n           group by date($this->moment)) found on found.day = days.day\nwhere days.day <= days.ends\norder by days.day");
        if ($this->amount !== null) {
            $this->add("Per day: lowest, highest, mean, first, last and change of $this->amount", "select day, count(*) as n, min(value) as lowest, max(value) as highest, avg(value) as mean,\n       max(case when nth = 1 then value end) as first, max(case when nth = n_of_day then value end) as last,\n       max(case when nth = n_of_day then value end) - max(case when nth = 1 then value end) as changed,\n       (max(case when nth = n_of_day then value end) - max(case when nth = 1 then value end))\n           / nullif(timestampdiff(second, min(moment), max(moment)), 0) * 3600 as changed_per_hour\nfrom (select date($this->moment) as day, $this->moment as moment, $this->amount as value,\n             row_number() over (partition by date($this->moment) order by $this->moment) as nth,\n             count(*) over (partition by date($this->moment)) as n_of_day\n      from $this->table\n      where $this->moment is not null and $this->amount is not null) each_one\ngroup by day\norder by day");
        }
    }

    private function periods(): void
    {
        $this->add('Of the last 24 hours', "select *\nfrom $this->table\nwhere $this->moment >= utc_timestamp() - interval 24 hour\norder by $this->moment desc\nlimit 1000");
        $month = "date_format(utc_date(), '%Y-%m-01')";
        $this->add('This month so far, and the same of last year', "select sum($this->moment >= $month and $this->moment <= utc_timestamp()) as this_month,\n       sum($this->moment >= $month - interval 1 year and $this->moment <= utc_timestamp() - interval 1 year) as same_of_last_year\nfrom $this->table");
    }

    private function without(JoinTie $tie): void
    {
        $on = implode(' and ', array_map(static fn (array $pair): string => "b.$pair[1] = a.$pair[0]", $tie->pairs));
        $this->add("Rows without one in $tie->other", "select a.*\nfrom $this->table a\nwhere not exists (select 1 from $tie->other b where $on)\nlimit 1000");
        $this->add("With how many of $tie->other", 'select '.implode(', ', array_map(static fn (array $pair): string => "a.$pair[0]", $tie->pairs)).", count(b.{$tie->pairs[0][1]}) as n\nfrom $this->table a\nleft join $tie->other b on $on\ngroup by ".implode(', ', array_map(static fn (array $pair): string => "a.$pair[0]", $tie->pairs))."\norder by n desc\nlimit 100");
    }

    private function difference(string $state): void
    {
        $columns = implode(', ', $this->key === [] ? array_keys($this->columns) : $this->key);
        $this->add("What is new since $state", "select $columns from $this->table\nexcept\nselect $columns from $state");
        $this->add("What is gone since $state", "select $columns from $state\nexcept\nselect $columns from $this->table");
    }

    private function add(string $title, string $sql): void
    {
        $this->all[] = new Example($title, $sql);
    }

    /**
     * @param  array<string, string>  $columns
     * @param  list<string>  $types  the likeliest first
     */
    private function first(array $columns, array $types): ?string
    {
        foreach ($types as $type) {
            $found = array_search($type, $columns, true);
            if ($found !== false) {
                return (string) $found;
            }
        }

        return null;
    }
}
