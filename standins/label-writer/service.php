<?php

declare(strict_types=1);

require_once __DIR__.'/LabelWriter.php';

/** @var StandIns\Faults $faults */
return new StandIns\LabelWriter\LabelWriter($faults);
