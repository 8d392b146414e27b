<?php

declare(strict_types=1);

require_once __DIR__.'/Loans.php';
require_once __DIR__.'/LoansDesk.php';
require_once __DIR__.'/Register.php';
require_once __DIR__.'/Weather.php';

/** @var StandIns\Faults $faults */
$notes = new StandIns\Notebook('loans-desk');
$loans = new StandIns\LoansDesk\Loans($notes);

return new StandIns\LoansDesk\LoansDesk($loans, new StandIns\Desk('loans-desk', $faults), new StandIns\LoansDesk\Register($loans, $notes), new StandIns\LoansDesk\Weather($faults, new StandIns\Notebook('loans-desk', 'weather')));
