<?php

declare(strict_types=1);

/*
 * Puts 300 sources with three tables each beside the demo data, and a query for every tenth of them.
 */

use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\SavedQuery;
use App\Models\Source;
use App\Models\User;
use Illuminate\Contracts\Console\Kernel;

require __DIR__.'/../vendor/autoload.php';

$app = require __DIR__.'/../bootstrap/app.php';
$app->make(Kernel::class)->bootstrap();

$environment = Environment::query()->where('slug', 'trial')->firstOrFail();
$person = User::query()->firstOrFail();
for ($number = 0; $number < 300; $number++) {
    $source = Source::query()->create(['slug' => "house-$number", 'name' => "House $number"]);
    for ($table = 0; $table < 3; $table++) {
        $endpoint = Endpoint::query()->create(['source_id' => $source->id, 'slug' => "list-$table", 'name' => "List $table"]);
        KeptTable::query()->create(['endpoint_id' => $endpoint->id, 'environment_id' => $environment->id, 'name' => "house_{$number}_$table", 'given_name' => 'list', 'is_branch' => false, 'columns' => [], 'key' => [], 'rows' => 1000 * $number, 'refreshed_at' => now()]);
    }
    if ($number % 10 === 0) {
        SavedQuery::query()->create(['user_id' => $person->id, 'name' => "Objects of house $number", 'sql' => "select * from house_{$number}_0 join house_{$number}_1 using (id)"]);
    }
}
