<?php

declare(strict_types=1);

require_once __DIR__.'/FreightTracker.php';

return new StandIns\FreightTracker\FreightTracker;
