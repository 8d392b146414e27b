<?php

declare(strict_types=1);

foreach (['Refusal', 'Collection', 'FilterText', 'Choice', 'Records', 'Version', 'VersionFour', 'VersionTwo', 'Aggregation', 'Batch', 'Registrar'] as $class) {
    require_once __DIR__."/$class.php";
}

return new StandIns\Registrar\Registrar(new StandIns\Faults('registrar'), new StandIns\Notebook('registrar'));
