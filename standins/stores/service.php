<?php

declare(strict_types=1);

require_once __DIR__.'/Stores.php';

return new StandIns\Stores\Stores(new StandIns\Notebook('stores'), new StandIns\Faults('stores'));
