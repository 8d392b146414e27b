<?php

declare(strict_types=1);

namespace Tests\App;

use App\Reservoir\MariaDb\NormalForm;
use DeepSpring\Indexing\TableUse;
use Illuminate\Support\Facades\DB;

/**
 * What the database writes down of a statement is read, whatever the statement is: every column is one of
 * the table it is said of, and the same statement written otherwise gives the same.
 */
final class NormalFormTest extends AppTestCase
{
    private const SCHEMA = 'deep_spring_test_data_trial';

    private const COLUMNS = ['loans' => ['loan_id', 'ref', 'house', 'status', 'due', 'fee', 'odd `name` (and'], 'items' => ['loan_id', 'line', 'crate', 'object', 'value']];

    protected function setUp(): void
    {
        parent::setUp();
        $keeper = DB::connection('keeper');
        $keeper->unprepared('use '.self::SCHEMA);
        $keeper->statement('create table loans (loan_id bigint primary key, ref varchar(64), house varchar(64), status varchar(64), due date, fee decimal(11,2), `odd ``name`` (and` varchar(64))');
        $keeper->statement('create table items (loan_id bigint, line int, crate varchar(64), object varchar(64), value decimal(11,2), primary key (loan_id, line))');
        $keeper->statement("insert into loans (loan_id, ref, house, status, due, fee) select seq, concat('R', seq), concat('h', seq % 7), concat('s', seq % 3), date_add('2030-01-01', interval seq day), seq from seq_1_to_50");
        $keeper->statement("insert into items select seq % 50 + 1, seq, concat('C', seq % 11), concat('o', seq), seq from seq_1_to_200");
    }

    /**
     * @return list<TableUse>
     */
    private function uses(string $sql): array
    {
        $pdo = DB::connection('keeper')->getPdo();
        ($pdo->query("explain extended $sql") ?: self::fail($sql))->fetchAll();
        foreach (($pdo->query('show warnings') ?: self::fail($sql))->fetchAll(\PDO::FETCH_ASSOC) as $note) {
            if ((int) $note['Code'] === 1003) {
                return (new NormalForm((string) $note['Message'], self::SCHEMA))->uses();
            }
        }
        self::fail("The database wrote nothing down of $sql");
    }

    public function test_random_statements_name_no_column_that_is_not_there(): void
    {
        $seed = (int) (getenv('SPRING_SEED') ?: random_int(1, 1_000_000));
        mt_srand($seed);
        $read = 0;
        for ($number = 0; $number < 400; $number++) {
            $sql = $this->statement(2);
            foreach ($this->uses($sql) as $use) {
                foreach ([$use->equal, $use->range, $use->grouped, $use->sorted, $use->read, ...$use->joined] as $columns) {
                    self::assertSame([], array_diff($columns, self::COLUMNS[$use->table]), "$sql, seed $seed");
                }
                // What is done with a column needs it to be read.
                self::assertSame([], array_diff([...$use->equal, ...$use->range, ...$use->grouped, ...$use->sorted, ...array_merge(...$use->joined)], $use->read), "$sql, seed $seed");
                $read++;
            }
        }
        self::assertGreaterThan(300, $read);
    }

    public function test_it_is_the_same_however_it_is_written(): void
    {
        $same = [
            ["select ref from loans where house = 'h1' and fee > 3", "select l.ref from loans as l where l.fee > 3 and l.house = 'h1'", 'select `loans`.`ref` from '.self::SCHEMA.".loans where 'h1' = house and fee > 1 + 2"],
            ['select l.ref from loans l join items i on i.crate = l.ref', 'select l.ref from loans l, items i where l.ref = i.crate', 'select l.ref from items i inner join loans l on (i.crate = l.ref)'],
            ['select house, count(*) from loans group by house', 'select house, count(*) from loans group by 1', 'select t.house, count(*) from loans t group by t.house'],
            ["with some as (select ref from loans where house = 'h1') select * from some", "select * from (select ref from loans where house = 'h1') x", "select ref from loans where house = 'h1'"],
            ['select house, due from loans order by house desc, due desc limit 3', 'select house, due from loans order by 1 desc, 2 desc limit 3', 'select house as one, due from loans order by one desc, due desc limit 3'],
            ['select distinct house from loans', 'select all house from loans group by house'],
            ["select ref from loans where `odd ``name`` (and` = 'x'", "select ref from loans l where 'x' = l.`odd ``name`` (and`"],
        ];
        foreach ($same as $group) {
            $first = null;
            foreach ($group as $sql) {
                $uses = array_map(static fn (TableUse $use): array => ['table' => $use->table, 'equal' => $use->equal, 'range' => $use->range, 'joined' => $use->joined, 'grouped' => $use->grouped, 'sorted' => $use->sorted], $this->uses($sql));
                // What is put in place of its name stands there twice.
                $uses = array_values(array_unique($uses, SORT_REGULAR));
                usort($uses, static fn (array $one, array $other): int => $one['table'] <=> $other['table']);
                $first ??= $uses;
                self::assertSame($first, $uses, $sql);
                self::assertNotSame([[], [], [], [], []], array_values(array_slice($uses[0], 1)), $sql);
            }
        }
    }

    public function test_texts_that_look_like_a_statement_are_texts(): void
    {
        foreach (["it''s `house` = 1 and", 'a\\\\', "') or `x`.`loans`.`house` = ('", '/* select */', 'select `'.self::SCHEMA.'`.`loans`.`due` from', '"', "line\nbreak", '--', '#'] as $text) {
            $quoted = DB::connection('keeper')->getPdo()->quote($text);
            [$use] = $this->uses("select ref from loans where status = $quoted and house > $quoted");
            self::assertSame([['status'], ['house'], ['ref', 'status', 'house']], [$use->equal, $use->range, $use->read], $text);
        }
    }

    /**
     * A statement with what people write, and what they do not.
     */
    private function statement(int $deep): string
    {
        $pick = static fn (array $from): string => (string) $from[mt_rand(0, count($from) - 1)];
        $column = static fn (string $table): string => "$table.`".str_replace('`', '``', $pick(self::COLUMNS[['l' => 'loans', 'i' => 'items'][$table]])).'`';
        $value = static fn (): string => $pick(["'x'", '5', "'it''s'", 'null', "date '2030-02-01'", 'now()', '1 + 2', "concat('a', 'b')"]);
        $both = mt_rand(0, 1) === 1;
        $any = static fn (): string => $column($both && mt_rand(0, 1) ? 'i' : 'l');
        $condition = function () use ($any, $value, $pick, $deep, $column): string {
            return match (mt_rand(0, 9)) {
                0 => $any().' = '.$value(),
                1 => $value().' = '.$any(),
                2 => $any().' '.$pick(['<', '>', '<=', '>=', '<>', '<=>']).' '.$value(),
                3 => $any().' between '.$value().' and '.$value(),
                4 => $any().' '.$pick(['in', 'not in']).' ('.$value().', '.$value().')',
                5 => $any().' like '.$pick(["'a%'", "'%a'", "'_b'", "'it''s%'"]),
                6 => '('.$any().' = '.$value().' or '.$any().' is null)',
                7 => 'not ('.$any().' = '.$any().')',
                8 => $deep > 0 ? $column('l').' in (select '.$pick(['ref', 'house', 'status']).' from ('.$this->statement(0).') z join loans on true)' : 'true',
                default => $pick(['upper', 'length', 'year']).'('.$any().') = '.$value(),
            };
        };
        $from = $both ? 'loans l '.$pick(['join', 'left join', 'inner join']).' items i on i.loan_id = l.loan_id'.(mt_rand(0, 1) ? ' and i.crate = l.ref' : '') : 'loans l';
        $where = mt_rand(0, 4) === 0 ? '' : ' where '.implode(' and ', array_map($condition, range(1, mt_rand(1, 3))));

        return match (mt_rand(0, 3)) {
            0 => "select l.house as one, count(*) as two from $from$where group by l.house".(mt_rand(0, 1) ? ' having count(*) > 1' : '').(mt_rand(0, 1) ? ' order by 2 desc limit 3' : ''),
            1 => 'select distinct '.$any()." as one from $from$where",
            2 => 'select '.$any().' as one, row_number() over (partition by '.$any().' order by '.$any().") as two from $from$where order by one limit 5",
            default => 'select '.$any().' as one, '.$any()." as two from $from$where".(mt_rand(0, 1) ? ' order by '.$any().' desc limit 4, 2' : ''),
        };
    }
}
