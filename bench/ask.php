<?php

declare(strict_types=1);

/*
 * How quickly kept tables answer: 2,000,000 readings, 400,000 loans, 100,000 borrowers, 24 towns, put in
 * place as a refresh does it. The same statements over a copy whose texts have no bounds give the ratio.
 */

use App\Models\Environment;
use App\Models\KeptTable;
use App\Reservoir\StatementPlans;
use App\Reservoir\TableIndexes;
use App\Reservoir\TableStore;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\RowBatch;
use DeepSpring\Indexing\IndexAdvice;
use DeepSpring\Indexing\UseCount;
use Illuminate\Contracts\Console\Kernel;
use Illuminate\Support\Facades\DB;

require __DIR__.'/../vendor/autoload.php';
$app = require __DIR__.'/../bootstrap/app.php';
$app->make(Kernel::class)->bootstrap();

const ROUNDS = 5;
const AT_ONCE = 5000;

$environment = Environment::named('production') ?? throw new LogicException('No environment.');
$keeper = DB::connection('keeper');
$schema = $environment->schema();
$pad = static fn (int $number): string => str_pad((string) $number, 6, '0', STR_PAD_LEFT);
$houses = ['HQ01', 'MILL', 'PIER', 'QUAY', 'TIDE', 'SALT', 'REED', 'BELL', 'LAMP', 'OARS', 'GULL', 'DUNE'];
$tables = [
    'ask_readings' => [2_000_000, ['id' => 'integer', 'house' => 'text', 'crate' => 'text', 'at' => 'datetime', 'celsius' => 'decimal', 'note' => 'text'], static fn (int $id): array => [(string) $id, $houses[$id * 7919 % 12], 'CR-'.$pad($id * 31 % 4000), gmdate('Y-m-d H:i:s', 1_893_456_000 + $id * 30), sprintf('%.2f', ($id * 37 % 3000) / 100), $id % 9 === 0 ? null : 'checked by the night watch, seal '.$pad($id)]],
    'ask_moves' => [2_000_000, ['id' => 'integer', 'loan' => 'integer', 'house' => 'text', 'by' => 'text'], static fn (int $id): array => [(string) $id, (string) ($id * 7919 % 400_000 + 1), $id % 10_000 === 0 ? 'FORT' : $houses[$id % 12], 'moved by the morning boat']],
    'ask_loans' => [400_000, ['id' => 'integer', 'borrower' => 'integer', 'status' => 'text', 'cover' => 'decimal'], static fn (int $id): array => [(string) $id, (string) ($id * 7 % 100_000 + 1), ['open', 'out', 'returned', 'late'][$id % 4], sprintf('%.2f', $id * 13 % 100_000 / 10)]],
    'ask_borrowers' => [100_000, ['id' => 'integer', 'name' => 'text', 'town' => 'integer'], static fn (int $id): array => [(string) $id, "Borrower $id", (string) ($id % 24 + 1)]],
    'ask_towns' => [24, ['id' => 'integer', 'name' => 'text'], static fn (int $id): array => [(string) $id, "Town $id"]],
];
foreach ($tables as $name => [$count, $columns, $row]) {
    $plan = Plan::of(['table' => $name, 'key' => ['id'], 'columns' => array_map(static fn (string $column, string $type): array => ['name' => $column, 'from' => "$.$column", 'type' => $type], array_keys($columns), $columns)]);
    $staged = app(TableStore::class)->stage($environment, $name, $plan);
    $staged->begin();
    for ($from = 1; $from <= $count; $from += AT_ONCE) {
        $staged->add(new RowBatch([array_map($row, range($from, min($count, $from + AT_ONCE - 1)))], [], 0, 0));
        if ($staged->isDue()) {
            $staged->commit(null);
        }
    }
    $staged->finish();
    $begun = microtime(true);
    $staged->survey(['ask_moves' => ['house'], 'ask_loans' => ['status']]);
    $surveyed = ($surveyed ?? 0.0) + microtime(true) - $begun;
    $staged->putInPlace();
    $staged->end();
}
$keeper->statement("DROP TABLE IF EXISTS `$schema`.`ask_unbounded`");
$keeper->statement("CREATE TABLE `$schema`.`ask_unbounded` LIKE `$schema`.`ask_readings`");
$keeper->statement("ALTER TABLE `$schema`.`ask_unbounded` MODIFY house MEDIUMTEXT, MODIFY crate MEDIUMTEXT, MODIFY note MEDIUMTEXT");
$keeper->statement("INSERT INTO `$schema`.`ask_unbounded` SELECT * FROM `$schema`.`ask_readings`");
$keeper->select("ANALYZE TABLE `$schema`.`ask_unbounded`", [], false);

$seconds = static function (string $sql) use ($keeper): float {
    $from = microtime(true);
    $keeper->select($sql, [], false);

    return microtime(true) - $from;
};
$statements = [
    'group by a text of 12 values' => 'select house, count(*), avg(celsius) from TABLE group by house',
    'group by a text of 4 000 values' => 'select crate, count(*), max(celsius) from TABLE group by crate',
    'distinct values of a text of 12' => 'select count(distinct house) from TABLE',
    'distinct values of a text of 4 000' => 'select count(distinct crate) from TABLE',
    'a page by the key, in the middle' => 'select * from TABLE where id > 1000000 order by id limit 50',
    'rows sorted by a text' => 'select id, crate from TABLE order by crate, id limit 50',
];
printf("%-38s %8s %8s   %s\n", 'over 2 000 000 rows', 'bounded', 'without', 'ratio (middle of '.ROUNDS.' rounds)');
foreach ($statements as $what => $sql) {
    $bounded = $unbounded = $ratios = [];
    for ($round = 0; $round < ROUNDS; $round++) {
        $bounded[] = $one = $seconds(str_replace('TABLE', "`$schema`.`ask_readings`", $sql));
        $unbounded[] = $other = $seconds(str_replace('TABLE', "`$schema`.`ask_unbounded`", $sql));
        $ratios[] = $one / $other;
    }
    sort($bounded);
    sort($unbounded);
    sort($ratios);
    printf("%-38s %6.2f s %6.2f s   %.2f (%.2f to %.2f)\n", $what, $bounded[2], $unbounded[2], $ratios[2], $ratios[0], $ratios[4]);
}

/*
 * The same with the indexes that are proposed for these statements, and what each was said to cost.
 */
$readings = (new KeptTable)->forceFill(['id' => 0, 'name' => 'ask_readings', 'rows' => 2_000_000, 'key' => ['id'], 'endpoint_id' => 0, 'environment_id' => $environment->id])->setRelation('environment', $environment);
$indexes = app(TableIndexes::class);
$pages = [
    'a page by a text, in the middle' => 'select * from TABLE where crate >= "CR-002000" and (crate > "CR-002000" or crate = "CR-002000" and id > 1000000) order by crate, id limit 101',
    'a page by a time, in the middle' => 'select * from TABLE where at >= "2030-12-12" and (at > "2030-12-12" or at = "2030-12-12" and id > 5) order by at, id limit 101',
    'rows of one of 4 000, of a month' => 'select count(*), avg(celsius) from TABLE where crate = "CR-002000" and at >= "2030-06-01" and at < "2030-07-01"',
];
$before = [];
foreach ($statements + $pages as $what => $sql) {
    $before[$what] = $seconds(str_replace('TABLE', "`$schema`.`ask_readings`", $sql));
}
$uses = [];
foreach ($statements + $pages as $what => $sql) {
    $plan = app(StatementPlans::class)->of($keeper->getPdo(), $environment, str_replace('TABLE', "`$schema`.`ask_readings`", $sql));
    foreach ($plan->uses ?? [] as $use) {
        $uses[] = new UseCount($use, 1, (int) (1000 * $before[$what]));
    }
}
$facts = $indexes->facts($readings, ['house', 'crate', 'at', 'celsius', 'id']);
foreach (IndexAdvice::of($facts, $uses, []) as $proposal) {
    $cost = $indexes->cost($readings, $proposal->columns);
    $took = microtime(true);
    $indexes->add($readings, $proposal->columns);
    $took = microtime(true) - $took;
    foreach ($indexes->there($environment, 'ask_readings') as $there) {
        if ($there->columns === $proposal->columns) {
            printf("%-38s %6.2f s, said to take %.2f; %.0f MB, said to be %.0f\n", 'index '.implode(', ', $proposal->columns), $took, $cost->milliseconds / 1000, $there->bytes / 1e6, $cost->bytes / 1e6);
        }
    }
}
$moves = (new KeptTable)->forceFill(['id' => 1, 'name' => 'ask_moves', 'rows' => 2_000_000, 'key' => ['id'], 'endpoint_id' => 0, 'environment_id' => $environment->id])->setRelation('environment', $environment);
$indexes->add($moves, ['loan']);
$rare = "select count(*), max(l.cover) from `$schema`.`ask_moves` m join `$schema`.`ask_loans` l on l.id = m.loan where m.house = 'FORT' and l.status <> 'late'";
$without = $seconds("set statement use_stat_tables = 'never' for $rare");
$with = array_map(static fn (): float => $seconds($rare), range(1, ROUNDS));
sort($with);
printf("%-38s %6.3f s %6.2f s, looking took %.2f s\n", 'a rare value, joined: surveyed, not', $with[2], $without, $surveyed);
printf("%-38s %8s %8s\n", 'with the proposed indexes', 'with', 'without');
foreach ($statements + $pages as $what => $sql) {
    $with = array_map(static fn (): float => $seconds(str_replace('TABLE', "`$schema`.`ask_readings`", $sql)), range(1, ROUNDS));
    sort($with);
    printf("%-38s %6.3f s %6.2f s\n", $what, $with[2], $before[$what]);
}
$sql = "select t.name, count(*), sum(l.cover) from `$schema`.`ask_loans` l join `$schema`.`ask_borrowers` b on b.id = l.borrower join `$schema`.`ask_towns` t on t.id = b.town group by t.name";
$join = static function (string $what) use ($seconds, $sql): float {
    $times = array_map(static fn (): float => $seconds($sql), range(1, ROUNDS));
    sort($times);
    printf("%-38s %6.2f s (%.2f to %.2f)\n", $what, $times[2], $times[0], $times[4]);

    return $times[2];
};
$took = $join('100 000 × 400 000 × 24 rows, grouped');
$uses = array_map(static fn ($use): UseCount => new UseCount($use, 1, (int) (1000 * $took)), app(StatementPlans::class)->of($keeper->getPdo(), $environment, $sql)->uses ?? []);
foreach (['ask_loans' => 400_000, 'ask_borrowers' => 100_000] as $name => $count) {
    $table = (new KeptTable)->forceFill(['id' => 2, 'name' => $name, 'rows' => $count, 'key' => ['id'], 'endpoint_id' => 0, 'environment_id' => $environment->id])->setRelation('environment', $environment);
    foreach (IndexAdvice::of($indexes->facts($table, ['borrower', 'cover', 'town', 'id']), $uses, []) as $proposal) {
        $indexes->add($table, $proposal->columns);
        printf("index of %-29s %s\n", $name, implode(', ', $proposal->columns));
    }
}
$keeper->select("ANALYZE TABLE `$schema`.`ask_loans`, `$schema`.`ask_borrowers`", [], false);
$join('the same with the proposed indexes');
$keeper->statement("DROP TABLE `$schema`.`ask_unbounded`");
foreach (array_keys($tables) as $name) {
    $keeper->statement("DROP TABLE IF EXISTS `$schema`.`$name`");
}
