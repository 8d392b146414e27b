<?php

declare(strict_types=1);

require_once __DIR__.'/ConservationLab.php';

return new StandIns\ConservationLab\ConservationLab(new StandIns\Faults('conservation-lab'), new StandIns\Notebook('conservation-lab'));
