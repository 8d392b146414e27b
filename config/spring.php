<?php

declare(strict_types=1);

return [
    // Where this instance keeps what it writes, relative to the root.
    'var' => env('SPRING_VAR', 'var'),

    // The key that secrets are encrypted with; a file, so that a copy of the database holds none.
    'secrets_key_file' => env('SPRING_SECRETS_KEY', env('SPRING_VAR', 'var').'/keys/secrets.key'),

    'demo' => [
        'passwords' => ['builder' => env('SPRING_DEMO_BUILDER'), 'analyst' => env('SPRING_DEMO_ANALYST'), 'administrator' => env('SPRING_DEMO_ADMINISTRATOR')],
        // The one for all of them that earlier versions made.
        'shared' => env('SPRING_DEMO_PASSWORD'),
        'standins' => env('SPRING_STANDINS', 'http://127.0.0.1:8401'),
        'private' => env('SPRING_STANDINS_PRIVATE', 'http://127.0.0.1:8402'),
    ],

    // Sign-in through an OpenID provider, beside passwords or in their place.
    'provider' => [
        'name' => env('SPRING_OIDC_NAME', 'single sign-on'),
        'issuer' => env('SPRING_OIDC_ISSUER'),
        'client_id' => env('SPRING_OIDC_CLIENT_ID'),
        'client_secret' => env('SPRING_OIDC_CLIENT_SECRET'),
        'scope' => env('SPRING_OIDC_SCOPE', 'openid email profile'),
        // A claim that gives the role, and its values: "circle-admins=administrator, circle-desk=builder".
        'role_claim' => env('SPRING_OIDC_ROLE_CLAIM'),
        'roles' => env('SPRING_OIDC_ROLES'),
        // The role of those who come for the first time and are given none; without it they need an invitation.
        'new_role' => env('SPRING_OIDC_NEW_ROLE'),
        'only' => (bool) env('SPRING_OIDC_ONLY', false),
    ],

    // Addresses of proxies in front, whose X-Forwarded headers are believed, and further names that people use.
    'proxies' => array_values(array_filter(array_map(trim(...), explode(',', (string) env('SPRING_PROXIES', ''))))),
    'hosts' => array_values(array_filter(array_map(trim(...), explode(',', (string) env('SPRING_HOSTS', ''))))),

    // Where tools that are not ours reach the database, as address:port; closed where it is empty.
    'door' => trim((string) env('SPRING_DOOR', '')),

    // Days after which entries of the log of who did what go.
    'log_days' => max(30, (int) env('SPRING_LOG_DAYS', 400)),

    // Who may read /metrics: a token that is sent as Bearer. Without one only administrators who are signed in.
    'metrics_token' => env('SPRING_METRICS_TOKEN'),

    // A folder with ready descriptions of one's own, beside those that ship with the application.
    'shelf' => env('SPRING_SHELF', base_path(env('SPRING_VAR', 'var').'/shelf')),

    'outbound' => [
        // Ports that need no permission of an administrator.
        'ports' => [80, 443, 8080, 8443],
        // A file with the certificates that servers are checked against, where an authority of
        // one's own signs them; the system's without it.
        'authorities' => env('SPRING_CA_FILE'),
    ],

    // Workers that run beside each other; the picture of the schedule reckons with them.
    'workers' => max(1, (int) env('SPRING_WORKERS', 2)),

    'limits' => [
        // Bytes of one answer that are read before the transport stops.
        'answer_bytes' => 64 * 1024 * 1024,
        // Bytes of one answer above which a run reads its records from the disk, and how many it may have then.
        'large_bytes' => 16 * 1024 * 1024,
        'streamed_bytes' => 4 * 1024 * 1024 * 1024,
        // Bytes of an answer's body that are kept as evidence.
        'evidence_bytes' => 2 * 1024 * 1024,
        // Bytes of a description (OpenAPI, HAR) that are fetched.
        'description_bytes' => 64 * 1024 * 1024,
        // Between two signs of life of a run, at which it also learns that it is to stop.
        'beat_seconds' => 1.0,
        // Rejects kept with their value for each run and table; all of them are counted.
        'rejects_kept' => 10_000,
        // Bytes of the answers of one run, before they are deflated, up to which they are kept, and for how many days.
        'kept_pages_bytes' => (int) env('SPRING_KEPT_PAGES_BYTES', 1024 * 1024 * 1024),
        'kept_pages_days' => (int) env('SPRING_KEPT_PAGES_DAYS', 30),
    ],

    'query' => [
        'seconds' => (int) env('SPRING_QUERY_SECONDS', 30),
        'rows' => (int) env('SPRING_QUERY_ROWS', 1000),
        'export_rows' => 1_000_000,
        // Rows that are kept of a result to be looked through.
        'result_rows' => 1_000_000,
        // Milliseconds after which a result is kept, so that the same is not read again while nothing has changed.
        'keeps_result_after' => (int) env('SPRING_KEEPS_RESULT_AFTER', 250),
        // Bytes of all results that are kept, deflated.
        'results_bytes' => 2 << 30,
        // Of a query whose rows are kept.
        'keep_seconds' => 600,
        // Seconds that a statement waits for newer rows, where a source file wants that.
        'fresh_seconds' => 20,
        // Bytes of a statement, and of one as the history keeps it.
        'statement_bytes' => 256 * 1024,
        'history_bytes' => 64 * 1024,
        // Statements at once: of one person, and of all.
        'person_at_once' => (int) env('SPRING_QUERY_PERSON', 3),
        'at_once' => (int) env('SPRING_QUERY_AT_ONCE', 6),
        // Of a table that is not kept, for one query.
        'live_rows' => (int) env('SPRING_LIVE_ROWS', 50_000),
        'live_seconds' => 60,
    ],
];
