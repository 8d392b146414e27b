<?php

declare(strict_types=1);

require_once __DIR__.'/CrateLoggers.php';

return new StandIns\CrateLoggers\CrateLoggers(new StandIns\Faults('crate-loggers'), new StandIns\Notebook('crate-loggers', 'asked'));
