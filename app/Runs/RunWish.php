<?php

declare(strict_types=1);

namespace App\Runs;

/**
 * How a refresh is wanted.
 */
final readonly class RunWish
{
    /**
     * @param  bool  $everyExchange  whether every exchange is kept
     * @param  bool  $rebuild  whether the tables are made from the pages that are kept, without asking the API
     * @param  bool  $whole  whether everything is read, also where changes would be enough
     * @param  bool  $failedRows  whether only rows of a lookup that failed in the run before are asked for
     * @param  bool  $takesAny  whether new rows are put in place though a check would stop them
     * @param  BegunBy|null  $begunBy  what asks for it, where that is no person
     */
    public function __construct(public bool $everyExchange = false, public bool $rebuild = false, public bool $whole = false, public bool $takesAny = false, public bool $failedRows = false, public ?BegunBy $begunBy = null)
    {
    }
}
