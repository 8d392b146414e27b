<?php

declare(strict_types=1);

require_once __DIR__.'/TideTables.php';

return new StandIns\TideTables\TideTables;
