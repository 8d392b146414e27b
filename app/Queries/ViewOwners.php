<?php

declare(strict_types=1);

namespace App\Queries;

use App\Models\Environment;
use App\Models\QueryKeep;
use App\Models\User;
use App\Reservoir\ReaderAccounts;

/**
 * A view shows what its owner may read now, and not what that was when the owner asked last.
 */
final readonly class ViewOwners
{
    public function __construct(private ReaderAccounts $accounts)
    {
    }

    /**
     * Brings the rights of the owners of views up to date, and of those that these read.
     *
     * @param  list<string>  $names  of views, and of tables, which are passed over
     */
    public function align(Environment $environment, array $names): void
    {
        $owners = [];
        for ($seen = []; $names !== []; $names = array_values(array_diff($next, $seen))) {
            array_push($seen, ...$names);
            $next = [];
            foreach (QueryKeep::query()->with('savedQuery.user')->where(['environment_id' => $environment->id, 'is_view' => true])->whereIn('name', $names)->get() as $keep) {
                $owners[$keep->savedQuery->user_id] = $keep->savedQuery->user;
                array_push($next, ...$keep->reads);
            }
        }
        array_map(fn (User $owner) => $this->accounts->align($owner, $environment), $owners);
    }
}
