<?php

declare(strict_types=1);

namespace App\Http\Tables;

use App\Models\KeptTable;

/**
 * The kept table that an address names, in the environment somebody works in.
 */
trait FindsTable
{
    private function table(string $name): KeptTable
    {
        return KeptTable::query()->with(['endpoint.source', 'environment'])->where('environment_id', $this->environment()->id)->where('name', $name)->first() ?? abort(404, "There is no table \"$name\" in {$this->environment()->name}.");
    }
}
