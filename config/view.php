<?php

declare(strict_types=1);

return [
    'paths' => [resource_path('views')],
    'compiled' => base_path(env('SPRING_VAR', 'var').'/views'),
];
