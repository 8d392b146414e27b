<?php

declare(strict_types=1);

require_once __DIR__.'/Doors.php';
require_once __DIR__.'/Inside.php';

/** @var StandIns\Faults $faults */
return new StandIns\Doors\Doors(new StandIns\Doors\Inside(new StandIns\Desk('doors', $faults)));
