<?php

declare(strict_types=1);

// Refreshes of an endpoint, one for each line that comes ("whole" or "changes"), in one process as a worker does them:
// what each took.

use App\Models\Endpoint;
use App\Models\Environment;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\Runs\RunWish;
use Illuminate\Contracts\Console\Kernel;

require __DIR__.'/../vendor/autoload.php';
$app = require __DIR__.'/../bootstrap/app.php';
$app->make(Kernel::class)->bootstrap();
while (($line = fgets(STDIN)) !== false) {
    $endpoint = Endpoint::query()->where('slug', $argv[1])->firstOrFail();
    $run = app(Runs::class)->ask($endpoint, Environment::named('production') ?? throw new LogicException('No environment.'), null, new RunWish(whole: trim($line) === 'whole'));
    memory_reset_peak_usage();
    $begun = hrtime(true);
    $run = app(Refresh::class)->run($run);
    echo json_encode(['seconds' => (hrtime(true) - $begun) / 1e9, 'memory' => memory_get_peak_usage(true), 'pages' => $run->pages, 'records' => $run->records, 'rows' => $run->rows, 'changes' => $run->changes, 'state' => $run->state->value, 'ended' => $run->ended, 'why' => $run->diagnosis]), "\n";
}
