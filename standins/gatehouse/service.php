<?php

declare(strict_types=1);

require_once __DIR__.'/Gatehouse.php';

/** @var StandIns\Faults $faults */
return new StandIns\Gatehouse\Gatehouse(new StandIns\Desk('gatehouse', $faults), $faults);
