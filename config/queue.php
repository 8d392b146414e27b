<?php

declare(strict_types=1);

return [
    'default' => env('QUEUE_CONNECTION', 'database'),
    'connections' => [
        'sync' => ['driver' => 'sync'],
        // A job is a run's number; a run whose worker died is queued again by what looks after runs, long before this.
        'redis' => ['driver' => 'redis', 'connection' => 'default', 'queue' => 'default', 'retry_after' => 864_000, 'block_for' => null, 'after_commit' => true],
        'database' => ['driver' => 'database', 'connection' => null, 'table' => 'jobs', 'queue' => 'default', 'retry_after' => 864_000, 'after_commit' => true],
    ],
    'batching' => ['database' => 'app', 'table' => 'job_batches'],
    'failed' => ['driver' => 'database-uuids', 'database' => 'app', 'table' => 'failed_jobs'],
];
