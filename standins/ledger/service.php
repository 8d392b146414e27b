<?php

declare(strict_types=1);

require_once __DIR__.'/Ledger.php';

return new StandIns\Ledger\Ledger;
