<?php

declare(strict_types=1);

namespace Tests\Core\Sql;

/**
 * A statement by chance, and the pieces that it was put together from.
 */
final class WrittenSelect
{
    private const COLUMNS = ['l.ref', 'l.house as home', 'l.due due_on', 'count(*)', 'count(distinct l.house) n', 'sum(l.value) as total', 'AVG(l.days)', "date_format(l.out_at, '%x-W%v') as week", "date(convert_tz(l.out_at, 'UTC', 'Europe/Oslo'))", 'year(l.due)',
        "case when l.days > 3 and l.days < 9 then 'a, b' else 'from' end kind", 'concat(l.ref, \', \', l.house)', '(select max(x.due) from loans x where x.ref = l.ref and x.days > 1) as latest', 'row_number() over (partition by l.house order by l.due)', 'l.due + interval 1 day', '`l`.`ref` as `order by`', "'it''s -- no comment' as said", 'extract(day from l.due)', '-l.value', 'l.days * 2 as twice', 'l.*', 'left(l.ref, 2)', ':house as house', 'trim(both from l.ref)', 'if(l.days between 1 and 2, 1, 0)', "'x' 'y'"];

    private const CONDITIONS = ["l.house = 'oster'", 'l.days > 3', 'l.days between 2 and 9', "l.ref like 'L-%'", 'l.due is not null', 'l.house in (:houses)', "l.house not in ('a', 'b, c')", 'exists (select 1 from venues x where x.code = l.house and x.places > 1)', 'not (l.days = 1 or l.days = 2)', 'case when l.days > 1 and l.days < 4 then 1 else 0 end = 1', "l.ref <> 'where and group by'", 'l.due > now() - interval 3 month', 'coalesce(l.value, 0) >= -2.5', 'l.value <= 1e3', "l.house like '%\\_st%'", 'l.days != 4', 'l.days in (1, 2, 3)', 'l.out_at < :before', "l.borrower = ''", 'l.days not between 3 and 4', 'l.ref regexp \'^[A-Z]\''];

    private const JOINS = ['left join venues v on v.code = l.house', 'join venues w on w.code = l.house and w.places > 1', 'inner join venues u using (house)', 'cross join venues t', ', venues s', 'join (select code as c, count(*) as n from venues group by code) r on r.c = l.house and r.n > 1', 'left outer join (select code, name from venues where places > 1) p on p.code = l.house', 'natural join venues n', 'straight_join venues q on q.code = left(l.house, 3)'];

    private const OR = ['l.days = 1 or l.days = 2', 'l.days = 1 and l.due is null or l.house = \'x\''];

    public function __construct(int $seed)
    {
        mt_srand($seed);
    }

    /**
     * @return array{string, array<string, list<string>>}
     */
    public function statement(): array
    {
        $pieces = array_filter([
            'select' => $this->some(self::COLUMNS, 1, 5),
            'from' => [...$this->some(['loans l', 'loans as l', '`loans` l'], 1, 1), ...$this->some(self::JOINS, 0, 2)],
            'where' => mt_rand(0, 7) === 0 ? $this->some(self::OR, 1, 1) : $this->some(self::CONDITIONS, 0, 4),
            'group' => $this->some(['l.house', 'l.ref', 'week', "date_format(l.out_at, '%x-W%v')", 'l.due'], 0, 2),
            'having' => $this->some(['count(*) > 1', 'total < 5', 'max(l.days) between 1 and 3'], 0, 2),
            'order' => $this->some(['l.due desc', 'l.ref', 'count(*) ASC', "field(l.house, 'a', 'b')", '2'], 0, 2),
            'limit' => $this->some(['10', '5, 10', '10 offset 20'], 0, 1),
        ]);
        $sql = $this->some(['', '-- by house
', '/* loans */ '], 1, 1)[0];
        foreach ($pieces as $clause => $items) {
            $word = ['group' => 'group'.$this->gap().'by', 'order' => 'order'.$this->gap().'by'][$clause] ?? $clause;
            $sql .= ($clause === 'select' ? '' : $this->gap()).(mt_rand(0, 1) === 1 ? $word : strtoupper($word)).($clause === 'select' && mt_rand(0, 5) === 0 ? ' distinct' : '').$this->gap();
            foreach ($items as $number => $item) {
                $between = match ($clause) {
                    'where', 'having' => $this->gap().(mt_rand(0, 1) === 1 ? 'and' : 'AND').$this->gap(), 'from' => $this->gap(), default => $this->some([',', ', ', " ,\n  "], 1, 1)[0],
                };
                $sql .= ($number === 0 ? '' : $between).$item;
            }
        }

        return [$sql.$this->some(['', "\n", ' -- end'], 1, 1)[0], $pieces];
    }

    private function gap(): string
    {
        return $this->some([' ', "\n", "\n    ", '  '], 1, 1)[0];
    }

    /**
     * @param  list<string>  $of
     * @return list<string>
     */
    private function some(array $of, int $least, int $most): array
    {
        $places = range(0, count($of) - 1);
        $chosen = [];
        for ($left = mt_rand($least, $most); $left > 0; $left--) {
            $chosen[] = $of[array_splice($places, mt_rand(0, count($places) - 1), 1)[0]];
        }

        return $chosen;
    }
}
