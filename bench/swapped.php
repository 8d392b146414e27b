<?php

declare(strict_types=1);

/*
 * Twenty people who ask while tables are swapped under them: a table and its branch are put in place together every five
 * seconds for two minutes, each time with another number in every row. A mixed result would show two numbers. Each
 * person is a process of its own, with an account of the database of its own, and takes turns as on a page.
 */

use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Role;
use App\Models\Source;
use App\Models\User;
use App\Queries\QueryRunner;
use App\Queries\QuerySlots;
use Illuminate\Contracts\Console\Kernel;
use Illuminate\Support\Facades\DB;

require __DIR__.'/../vendor/autoload.php';
$app = require __DIR__.'/../bootstrap/app.php';
$app->make(Kernel::class)->bootstrap();

const PEOPLE = 20;
const EVERY = 5;
const LOANS = 20_000;
$seconds = (int) (getenv('SPRING_BENCH_SECONDS') ?: 120);

const STATEMENTS = [
    'select count(*) as n, min(gen) as a, max(gen) as b from sw_loans',
    'select l.house, count(*) as n, min(i.gen) as a, max(l.gen) as b from sw_loans l join sw_items i on i.loan = l.id where l.id < 4000 group by l.house',
    'select count(*) as n, min(l.gen) as a, max(i.gen) as b from sw_loans l join sw_items i on i.loan = l.id where l.id between 100 and 300',
    'select l.id, l.gen as a, i.gen as b from sw_loans l left join sw_items i on i.loan = l.id order by l.id limit 200',
];

$environment = Environment::named('production') ?? throw new LogicException('No environment.');

if (isset($argv[1])) {
    // One of the people: asks until the time is up, and tells what became of it.
    $person = User::query()->where('email', "swapped$argv[1]@saltmarsh.example")->firstOrFail();
    $runner = app(QueryRunner::class);
    $turns = app(QuerySlots::class);
    $times = [];
    [$errors, $mixed, $states] = [[], 0, []];
    mt_srand((int) $argv[1]);
    for ($until = microtime(true) + $seconds; microtime(true) < $until;) {
        $begun = hrtime(true);
        try {
            $turn = $turns->await($person, 30);
            $result = $runner->run($person, $environment, STATEMENTS[mt_rand(0, 3)]);
            $names = array_map(static fn ($column): string => $column->name, $result->columns);
            $seen = array_unique([...array_column($result->rows, (int) array_search('a', $names, true)), ...array_column($result->rows, (int) array_search('b', $names, true))]);
            $mixed += count($seen) > 1 ? 1 : 0;
            $states += array_fill_keys(array_map(strval(...), $seen), true);
        } catch (Throwable $failed) {
            $errors[] = $failed->getMessage();
        } finally {
            ($turn ?? null)?->giveBack();
            unset($turn);
        }
        $times[] = (hrtime(true) - $begun) / 1e9;
        usleep(mt_rand(50_000, 400_000));
    }
    echo json_encode(['times' => $times, 'errors' => $errors, 'mixed' => $mixed, 'states' => array_keys($states)], JSON_THROW_ON_ERROR);
    exit;
}

$schema = $environment->schema();
$keeper = DB::connection('keeper');
$source = Source::query()->firstOrCreate(['slug' => 'bench'], ['name' => 'Bench']);
$endpoint = Endpoint::query()->firstOrCreate(['source_id' => $source->id, 'slug' => 'swapped'], ['name' => 'Swapped']);
$make = static function (int $gen, string $suffix) use ($keeper, $schema): void {
    foreach (['sw_loans', 'sw_items'] as $name) {
        $keeper->statement("DROP TABLE IF EXISTS `$schema`.`$name$suffix`");
    }
    $keeper->statement("CREATE TABLE `$schema`.`sw_loans$suffix` (id INT PRIMARY KEY, house VARCHAR(64), gen INT) AS SELECT seq AS id, concat('house ', seq % 24) AS house, $gen AS gen FROM seq_1_to_".LOANS);
    $keeper->statement("CREATE TABLE `$schema`.`sw_items$suffix` (id INT PRIMARY KEY, loan INT, gen INT, KEY (loan)) AS SELECT seq AS id, seq % ".LOANS." + 1 AS loan, $gen AS gen FROM seq_1_to_".(4 * LOANS));
    // As a refresh does before it puts them in place; without it the optimizer takes a new table for an empty one.
    $keeper->select("ANALYZE TABLE `$schema`.`sw_loans$suffix`, `$schema`.`sw_items$suffix`", [], false);
};
$make(0, '');
foreach (['sw_loans' => ['id', 'house', 'gen'], 'sw_items' => ['id', 'loan', 'gen']] as $name => $columns) {
    KeptTable::query()->updateOrCreate(['environment_id' => $environment->id, 'name' => $name], ['endpoint_id' => $endpoint->id, 'given_name' => $name, 'is_branch' => $name === 'sw_items', 'key' => ['id'], 'rows' => LOANS, 'refreshed_at' => now(),
        'columns' => array_map(static fn (string $column): array => ['name' => $column, 'given' => $column, 'type' => 'integer', 'label' => 'whole number', 'scale' => null, 'from' => "\$.$column"], $columns)]);
}
for ($number = 0; $number < PEOPLE; $number++) {
    User::query()->firstOrCreate(['email' => "swapped$number@saltmarsh.example"], ['name' => "Person $number", 'password' => bin2hex(random_bytes(16)), 'role' => Role::Analyst, 'environment_id' => $environment->id]);
}
$people = [];
for ($number = 0; $number < PEOPLE; $number++) {
    $file = tempnam(sys_get_temp_dir(), 'swapped');
    $process = proc_open([PHP_BINARY, __FILE__, (string) $number], [1 => ['file', (string) $file, 'w']], $pipes);
    $people[] = [$process, (string) $file];
}
$swaps = 0;
for ($until = microtime(true) + $seconds; microtime(true) < $until - EVERY;) {
    $next = microtime(true) + EVERY;
    $make(++$swaps, '__new');
    // As a refresh puts its tables in place: all of them in one statement.
    $keeper->statement("DROP TABLE IF EXISTS `$schema`.`sw_loans__old`, `$schema`.`sw_items__old`");
    $keeper->statement("RENAME TABLE `$schema`.`sw_loans` TO `$schema`.`sw_loans__old`, `$schema`.`sw_loans__new` TO `$schema`.`sw_loans`, `$schema`.`sw_items` TO `$schema`.`sw_items__old`, `$schema`.`sw_items__new` TO `$schema`.`sw_items`");
    KeptTable::query()->whereIn('name', ['sw_loans', 'sw_items'])->update(['refreshed_at' => now()->format('Y-m-d H:i:s.u')]);
    usleep((int) max(0, 1e6 * ($next - microtime(true))));
}
$times = $errors = $states = [];
$mixed = 0;
foreach ($people as [$process, $file]) {
    proc_close($process);
    $told = json_decode((string) file_get_contents($file), true) ?? ['times' => [], 'errors' => ['a process ended without a word'], 'mixed' => 0, 'states' => []];
    unlink($file);
    array_push($times, ...$told['times']);
    array_push($errors, ...$told['errors']);
    $states += array_fill_keys($told['states'], true);
    $mixed += $told['mixed'];
}
sort($times);
printf("%d people, %d s, %d swaps of a table and its branch, %d of their states seen\n", PEOPLE, $seconds, $swaps, count($states));
printf("%d statements: middle %.0f ms, slowest 1 %% from %.2f s on (under 2 s asked), worst %.2f s\n", count($times), 1000 * $times[intdiv(count($times), 2)], $times[(int) floor(0.99 * count($times))], end($times));
printf("%d errors, %d results of two states at once%s\n", count($errors), $mixed, $errors === [] ? '' : ': '.implode(' | ', array_slice(array_unique($errors), 0, 3)));
exit($errors === [] && $mixed === 0 ? 0 : 1);
