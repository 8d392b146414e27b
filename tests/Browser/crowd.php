<?php

declare(strict_types=1);

/*
 * Puts what is crowded, long and failing beside the demo data of the running application, or takes it away
 * again: `make` prints the views that show it as JSON, `clear` leaves nothing of it.
 */

use App\Models\AllowedHost;
use App\Models\Drift;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\RejectedValue;
use App\Models\SavedQuery;
use App\Models\Source;
use App\Models\User;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\Runs\Tries;
use App\Sources\SourceStore;
use DeepSpring\Flatten\Drift\ChangeKind;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Contracts\Console\Kernel;
use Illuminate\Support\Facades\DB;

require __DIR__.'/../../vendor/autoload.php';

$app = require __DIR__.'/../../bootstrap/app.php';
$app->make(Kernel::class)->bootstrap();

const LONG = 'Archive of the Outer Lightships, Landing Stages and Signal Houses of the Saltmarsh Circle, building ';
const UNBROKEN = 'Leuchtturmwärterwohnungsinventarverzeichnisnachtragsbuchführungsordnungsentwurf';

$environment = Environment::query()->where('slug', 'trial')->firstOrFail();
if ($argv[1] === 'clear') {
    foreach (KeptTable::query()->where('name', 'like', 'crowd\\_%')->pluck('name') as $name) {
        DB::connection('keeper')->statement("drop table if exists `deep_spring_data_trial`.`$name`");
    }
    SavedQuery::query()->where('name', 'like', LONG.'%')->delete();
    Source::query()->where('slug', 'like', 'crowd-%')->get()->each(static fn (Source $source) => $source->delete());
    AllowedHost::query()->where('host', '127.0.0.1')->where('port', 9)->delete();

    return;
}
$person = User::query()->where('email', 'ines@saltmarsh.example')->firstOrFail();
$store = app(SourceStore::class);
AllowedHost::query()->firstOrCreate(['host' => '127.0.0.1', 'port' => 9]);
$inputs = array_map(static fn (int $number): array => ['name' => "an_input_with_a_long_name_$number", 'in' => 'query', 'about' => UNBROKEN, 'choices' => [UNBROKEN, 'b'], 'try' => UNBROKEN], range(1, 12));
$columns = array_map(static fn (int $number): array => ['name' => "a_column_of_which_the_name_is_as_long_as_it_may_be_$number", 'from' => "$.a_field_with_a_long_name.and_another_inside_of_it.n$number", 'type' => 'text'], range(1, 40));
foreach (range(1, 30) as $number) {
    $source = $store->draft(SourceFile::of([
        'deepspring' => 1,
        'source' => ['slug' => "crowd-$number", 'name' => LONG.$number, 'environments' => ['trial' => ['base' => 'http://127.0.0.1:9/'.strtolower(str_repeat('a-long-way/', 12))]], 'pace' => ['patience' => 0, 'tries' => 1], 'headers' => ['x-a-header-with-a-long-name' => UNBROKEN]],
        'endpoints' => array_map(static fn (int $list): array => ['slug' => "list-$list", 'name' => LONG."$number, list $list", 'ask' => ['path' => '/'.str_repeat('lists/', 20), 'inputs' => $inputs], 'flatten' => ['table' => "crowd_{$number}_{$list}_with_a_name_that_is_as_long_as_it_can_be", 'columns' => $columns],
            // Never while the tests run.
            'keep' => ['refresh' => ['every' => '0 0 29 2 *', 'zone' => 'America/Argentina/ComodRivadavia', 'after' => ['a_table_with_a_name_that_is_as_long_as_the_name_of_a_table_can_']]]], range(1, $number === 1 ? 20 : 2)),
    ]), $person);
    $store->publish($source, $person);
    foreach ($source->endpoints()->get() as $endpoint) {
        DB::connection('keeper')->statement("create or replace table `deep_spring_data_trial`.`crowd_{$number}_{$endpoint->id}_with_a_name_that_is_as_long_as_it_can_be` (id int, _row bigint)");
        KeptTable::query()->create(['endpoint_id' => $endpoint->id, 'environment_id' => $environment->id, 'name' => "crowd_{$number}_{$endpoint->id}_with_a_name_that_is_as_long_as_it_can_be", 'given_name' => 'list', 'is_branch' => false, 'columns' => [['name' => 'id', 'given' => 'id', 'type' => 'integer', 'label' => 'whole number', 'scale' => null, 'from' => '$.id', 'comment' => UNBROKEN]], 'key' => [], 'rows' => 100_000_000 * $number, 'refreshed_at' => now()->subDays($number)]);
    }
    SavedQuery::query()->create(['user_id' => $person->id, 'name' => LONG.$number, 'sql' => "select * from crowd_{$number}_1 -- ".UNBROKEN]);
}
$source = Source::query()->where('slug', 'crowd-1')->firstOrFail();
$endpoint = $source->endpoints()->firstOrFail();
$definition = $source->current()->endpoint($endpoint->slug) ?? exit(1);
$try = app(Tries::class)->endpoint($endpoint, $source->current(), $definition, $environment, $person);
$run = app(Refresh::class)->run(app(Runs::class)->ask($endpoint, $environment, $person));
foreach (range(1, 60) as $number) {
    RejectedValue::query()->create(['run_id' => $run->id, 'table' => 'crowd_1', 'column' => "a_column_$number", 'path' => '$.'.str_repeat('deeper.', 20), 'record_key' => UNBROKEN, 'value' => json_encode(str_repeat(UNBROKEN, 3)), 'reason' => 'not a number', 'whole_record' => $number % 2 === 0]);
}
DB::table('runs')->where('id', $run->id)->update(['rejects' => 60, 'records' => 1000]);
$loans = KeptTable::query()->where('name', 'loans')->where('environment_id', $environment->id)->firstOrFail();
foreach (ChangeKind::cases() as $kind) {
    Drift::query()->create(['endpoint_id' => $endpoint->id, 'environment_id' => $environment->id, 'run_id' => $run->id, 'kind' => $kind, 'table' => 'crowd_1', 'path' => '$.'.$kind->value, 'sentence' => UNBROKEN.' is another than it was before, which is a long sentence.', 'examples' => [UNBROKEN, UNBROKEN]]);
}
$table = KeptTable::query()->where('endpoint_id', $endpoint->id)->firstOrFail();
echo json_encode([
    '/', '/?q=house', '/sources', '/sources/crowd-1', '/sources/crowd-1/endpoints/list-1', '/sources/crowd-1/endpoints/list-1/shape', '/sources/crowd-1/endpoints/list-1/tries',
    "/tries/$try->id", '/sources/crowd-1/versions', '/sources/crowd-1/file', '/tables', "/tables/$table->name", '/queries', '/runs', "/runs/$run->id", "/runs/$run->id/rejects", '/find?q=archive',
], JSON_THROW_ON_ERROR);
