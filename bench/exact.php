<?php

declare(strict_types=1);

/*
 * Whether anything is lost on the way: documents as hostile as services make them become tables by their
 * own proposal; every leaf is looked for in rows and rejects, and every row is read back from the database.
 */

use App\Models\Environment;
use App\Reservoir\TableStore;
use Brick\Math\BigDecimal;
use DeepSpring\Answer\AnswerDefinition;
use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Proposal\Proposer;
use DeepSpring\Flatten\Type\Storage;
use Illuminate\Contracts\Console\Kernel;
use Illuminate\Support\Facades\DB;
use Tests\Core\Flatten\LeafFinder;
use Tests\Core\Flatten\RandomDocuments;

require __DIR__.'/../vendor/autoload.php';
$app = require __DIR__.'/../bootstrap/app.php';
$app->make(Kernel::class)->bootstrap();

const SEEDS = 1000;

$environment = Environment::named('production') ?? throw new LogicException('No environment.');
$keeper = DB::connection('keeper');
$count = array_fill_keys(['documents', 'leaves', 'leaves in cells', 'leaves in rejects', 'leaves lost', 'tables', 'rows', 'cells', 'cells changed by the database'], 0);
for ($seed = 1; $seed <= SEEDS; $seed++) {
    $documents = new RandomDocuments($seed);
    $records = $documents->records();
    $body = (string) json_encode($records, JSON_PRESERVE_ZERO_FRACTION);
    $answer = AnswerDefinition::of(['records' => '$[*]']);
    $page = $answer->pageOf($answer->read($body, 'application/json'));
    $plan = Plan::of((new Proposer($seed % 2 === 0))->propose($page->written(), 'exact')->flatten);
    $batch = (new Flattener($plan))->flatten($page);
    $finder = new LeafFinder($batch);
    $count['documents']++;
    foreach ($documents->leaves as $leaf) {
        $count['leaves']++;
        $count['leaves '.match ($finder->find($leaf)) {
            'cells' => 'in cells', 'rejects' => 'in rejects', default => 'lost'
        }]++;
    }
    $staged = app(TableStore::class)->stage($environment, 'exact', $plan);
    $staged->begin();
    $staged->add($batch);
    $staged->finish();
    $staged->putInPlace();
    $staged->end();
    foreach ($staged->shapes() as $number => $shape) {
        $count['tables']++;
        $names = array_map(static fn ($column): string => "`{$column->name}`", $shape->columns);
        $there = array_map(static fn (object $row): array => array_values((array) $row), $keeper->select('select '.implode(', ', $names)." from `{$environment->schema()}`.`{$shape->name}`", [], false));
        $digits = static fn (string $cell): string => (string) BigDecimal::of($cell)->stripTrailingZeros();
        $plain = static fn (array $row): string => (string) json_encode(array_map(static fn (mixed $cell, int $place): ?string => $cell === null ? null : match ($shape->plan->columns[$place]->kept->storage()) {
            Storage::Integer, Storage::Decimal => $digits((string) $cell),
            Storage::Float => (string) json_encode((float) $cell),
            Storage::DateTime, Storage::Time => (string) preg_replace('/\.?0*$/D', '', str_contains((string) $cell, '.') ? (string) $cell : "$cell.0"),
            default => (string) $cell,
        }, $row, array_keys($row)), JSON_INVALID_UTF8_SUBSTITUTE);
        $wanted = array_count_values(array_map($plain, $batch->rows[$number]));
        $found = array_count_values(array_map($plain, $there));
        $count['rows'] += count($there);
        $count['cells'] += count($there) * count($names);
        // A row with a key that was there already is kept once, which is counted elsewhere.
        $count['cells changed by the database'] += count(array_diff_key($found, $wanted));
        $keeper->statement("drop table `{$environment->schema()}`.`{$shape->name}`");
    }
}
foreach ($count as $what => $number) {
    printf("%-32s %10s\n", $what, number_format($number, 0, '.', ' '));
}
exit($count['leaves lost'] + $count['cells changed by the database'] === 0 ? 0 : 1);
