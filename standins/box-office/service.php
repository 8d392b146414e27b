<?php

declare(strict_types=1);

require_once __DIR__.'/BoxOffice.php';

/** @var StandIns\Faults $faults */
return new StandIns\BoxOffice\BoxOffice(new StandIns\Desk('box-office', $faults), $faults);
