<?php

declare(strict_types=1);

return [
    'default' => env('QUEUE_CONNECTION', 'database'),
    'connections' => [
        'sync' => ['driver' => 'sync'],
        'database' => ['driver' => 'database', 'connection' => null, 'table' => 'jobs', 'queue' => 'default', 'retry_after' => 7260, 'after_commit' => true],
    ],
    'batching' => ['database' => 'app', 'table' => 'job_batches'],
    'failed' => ['driver' => 'database-uuids', 'database' => 'app', 'table' => 'failed_jobs'],
];
