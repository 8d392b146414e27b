<?php

declare(strict_types=1);

return [
    'default' => 'local',
    'disks' => [
        // Nothing of it is served: what people may have goes through controllers.
        'local' => ['driver' => 'local', 'root' => base_path(env('SPRING_VAR', 'var').'/tmp'), 'serve' => false, 'throw' => true],
    ],
];
