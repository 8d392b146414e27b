<?php

declare(strict_types=1);

require_once __DIR__.'/Loans.php';
require_once __DIR__.'/LoansDesk.php';

/** @var StandIns\Faults $faults */
return new StandIns\LoansDesk\LoansDesk(new StandIns\LoansDesk\Loans, new StandIns\Desk('loans-desk', $faults));
