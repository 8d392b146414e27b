<?php

declare(strict_types=1);

require_once __DIR__.'/Registrar.php';

return new StandIns\Registrar\Registrar(new StandIns\Faults('registrar'));
