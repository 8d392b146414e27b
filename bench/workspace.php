<?php

declare(strict_types=1);

/*
 * What somebody who writes SQL waits for: the first rows, what can be completed among 500 tables of 60 columns, the
 * coverage of a join of 100,000 and 400,000 rows, and a million rows of ten columns as CSV and XLSX. Each part
 * in one process, as a person of the application, with the memory it took at its peak.
 */

use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Role;
use App\Models\Source;
use App\Models\User;
use App\Queries\Charts;
use App\Queries\Exports;
use App\Queries\IndexAdvisor;
use App\Queries\JoinCoverage;
use App\Queries\KnownTables;
use App\Queries\Live\LiveTables;
use App\Queries\QueryRunner;
use App\View\ChartDrawing;
use DeepSpring\Chart\ChartKind;
use DeepSpring\Chart\ChartShape;
use DeepSpring\Export\ExportChoice;
use DeepSpring\Export\ExportFormat;
use DeepSpring\Sql\Completion;
use Illuminate\Contracts\Console\Kernel;
use Illuminate\Support\Facades\DB;

require __DIR__.'/../vendor/autoload.php';
$app = require __DIR__.'/../bootstrap/app.php';
$app->make(Kernel::class)->bootstrap();

const TABLES = 500;
const COLUMNS = 60;
const ROUNDS = 9;
const MILLION = 1_000_000;

$environment = Environment::named('production') ?? throw new LogicException('No environment.');
$person = User::query()->firstOrCreate(['email' => 'bench@saltmarsh.example'], ['name' => 'Bench', 'password' => bin2hex(random_bytes(16)), 'role' => Role::Analyst, 'environment_id' => $environment->id]);
$schema = $environment->schema();
$keeper = DB::connection('keeper');
$source = Source::query()->firstOrCreate(['slug' => 'bench'], ['name' => 'Bench']);
$keep = static function (string $name, array $columns, int $rows, array $key = []) use ($environment, $source): void {
    $endpoint = Endpoint::query()->firstOrCreate(['source_id' => $source->id, 'slug' => $name], ['name' => $name]);
    KeptTable::query()->updateOrCreate(['environment_id' => $environment->id, 'name' => $name], ['endpoint_id' => $endpoint->id, 'given_name' => $name, 'is_branch' => false, 'key' => $key, 'rows' => $rows, 'refreshed_at' => now(),
        'columns' => array_map(static fn (string $column): array => ['name' => $column, 'given' => $column, 'type' => 'text', 'label' => 'text', 'scale' => null, 'from' => "\$.$column"], $columns)]);
};

// The rows are made by the database, from a table of a thousand numbers.
foreach (['ask_numbers', 'ask_wide', 'ask_hundred', 'ask_four'] as $name) {
    $keeper->statement("DROP TABLE IF EXISTS `$schema`.`$name`");
}
$keeper->statement("CREATE TABLE `$schema`.`ask_numbers` (n INT PRIMARY KEY) AS SELECT seq AS n FROM seq_0_to_999");
$keeper->statement("CREATE TABLE `$schema`.`ask_wide` (id BIGINT PRIMARY KEY, ref VARCHAR(64), house VARCHAR(64), borrower VARCHAR(64), due DATE, at DATETIME(6), cover DECIMAL(12,2), items INT, ratio DOUBLE, note VARCHAR(200)) AS
    SELECT a.n * 1000 + b.n AS id, concat('NQ-', a.n * 1000 + b.n) AS ref, concat('house ', b.n % 24) AS house, concat('Borrower ', a.n) AS borrower, date('2030-01-01') + interval (b.n % 700) day AS due,
    timestamp('2030-01-01') + interval (a.n * 1000 + b.n) second AS at, (a.n * 31 + b.n) / 7 AS cover, b.n % 9 AS items, b.n / 3 AS ratio, if(b.n % 5 = 0, NULL, concat('checked, seal ', b.n)) AS note FROM `$schema`.`ask_numbers` a JOIN `$schema`.`ask_numbers` b");
$keeper->statement("CREATE TABLE `$schema`.`ask_hundred` AS SELECT concat('B', n) AS code, n FROM (SELECT a.n * 100 + b.n AS n FROM `$schema`.`ask_numbers` a JOIN `$schema`.`ask_numbers` b WHERE b.n < 100) x");
$keeper->statement("CREATE TABLE `$schema`.`ask_four` AS SELECT concat('B', n * 7 % 110000) AS code, n FROM (SELECT a.n * 400 + b.n AS n FROM `$schema`.`ask_numbers` a JOIN `$schema`.`ask_numbers` b WHERE b.n < 400) x");
$keep('ask_wide', ['id', 'ref', 'house', 'borrower', 'due', 'at', 'cover', 'items', 'ratio', 'note'], MILLION, ['id']);
$keep('ask_hundred', ['code', 'n'], 100_000);
$keep('ask_four', ['code', 'n'], 400_000);
for ($number = 0; $number < TABLES; $number++) {
    $keep("ask_table_$number", ['id', ...array_map(static fn (int $column): string => $column === 9 ? 'ask_table_'.($number % 7).'_id' : "column_{$number}_$column", range(2, COLUMNS))], 100, ['id']);
}

$middle = static function (array $times): string {
    sort($times);

    return sprintf('%.0f ms (worst %.0f)', 1000 * $times[intdiv(count($times), 2)], 1000 * end($times));
};
$timed = static function (Closure $do): float {
    $begun = hrtime(true);
    $do();

    return (hrtime(true) - $begun) / 1e9;
};
// Tables that are only listed are not there to be read.
$listed = KeptTable::query()->where('name', 'like', 'ask\\_table\\_%');
$known = static fn (): KnownTables => new KnownTables($environment, app(LiveTables::class), app(IndexAdvisor::class));
foreach (['select * from ask_ta', 'select colu from ask_table_7', 'select * from ask_table_7 a join ', 'select * from ask_table_7 a join ask_table_8 b on '] as $text) {
    $cursor = str_contains($text, ' colu ') ? 11 : strlen($text);
    printf("complete, %-52s %s\n", $text, $middle(array_map(static fn (): float => $timed(static fn (): Completion => new Completion($text, $cursor, $known())), range(1, ROUNDS))));
}
$listed->delete();
$runner = app(QueryRunner::class);
printf("first 100 rows of a million                                    %s\n", $middle(array_map(static fn (): float => $timed(static fn () => $runner->run($person, $environment, 'select * from ask_wide where id > 500000 limit 100')), range(1, ROUNDS))));
$coverage = app(JoinCoverage::class);
$join = 'select * from ask_hundred h join ask_four f on f.code = h.code';
printf("coverage of 100 000 × 400 000, a part                          %s\n", $middle(array_map(static fn (): float => $timed(static fn () => $coverage->of($person, $environment, $join, $known(), false)), range(1, 3))));
printf("coverage of 100 000 × 400 000, all                             %s\n", $middle(array_map(static fn (): float => $timed(static fn () => $coverage->of($person, $environment, $join, $known(), true)), range(1, 3))));

$charts = app(Charts::class);
$line = new ChartShape(ChartKind::Line, 0, [1]);
printf("a line of a million points, drawn                              %s\n", $middle(array_map(static fn (): float => $timed(static fn (): string => (new ChartDrawing($charts->draw($person, $environment, 'select at, cover from ask_wide', $line, ['at', 'cover'])))->svg()), range(1, 3))));
$exports = app(Exports::class);
foreach ([ExportFormat::Csv, ExportFormat::Tsv, ExportFormat::Ndjson, ExportFormat::Xlsx] as $format) {
    $path = sys_get_temp_dir().'/spring-bench-export';
    // Each in a process of its own, so that its peak is its own.
    $pid = pcntl_fork();
    if ($pid === 0) {
        DB::disconnect('app');
        DB::disconnect('keeper');
        memory_reset_peak_usage();
        $took = $timed(static fn () => $exports->write($person, $environment, ['select * from ask_wide'], $format, new ExportChoice, $path, 600));
        printf("%-6s of a million rows of ten columns: %s rows a second, peak %d MB, %d MB of file\n", $format->value, number_format(MILLION / $took, 0, '.', ' '), memory_get_peak_usage() / 1048576, filesize($path) / 1048576);
        unlink($path);
        ob_get_level() > 0 && ob_end_flush();
        fflush(STDOUT);
        posix_kill(posix_getpid(), SIGKILL);
    }
    pcntl_waitpid($pid, $status);
}
