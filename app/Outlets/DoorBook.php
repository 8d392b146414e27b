<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Models\Consumer;
use App\Models\DoorAccount;
use App\Models\Environment;
use App\Models\User;
use App\Reservoir\DoorAccounts;
use Illuminate\Support\Carbon;

/**
 * Gives tools that are not ours an account of the database, and takes it away.
 */
final readonly class DoorBook
{
    public function __construct(private DoorAccounts $accounts, private AuditLog $log)
    {
    }

    /**
     * Whether the door is open, and where: as `address:port`; null while it is closed.
     */
    public static function address(): ?string
    {
        $setting = (string) config('spring.door');

        return $setting === '' ? null : $setting;
    }

    /**
     * An account, or another password for the one that is there.
     *
     * @return array{DoorAccount, string} and the password, which nobody can see again
     */
    public function give(User|Consumer $to, Environment $environment, User $by): array
    {
        $whose = ['environment_id' => $environment->id, $to instanceof User ? 'user_id' : 'consumer_id' => $to->id];
        $account = DoorAccount::query()->where($whose)->first();
        $account ??= DoorAccount::query()->create($whose + ['name' => 'ds_tool_'.substr(hash('xxh32', $environment->schema()), 0, 8).'_'.($to instanceof User ? 'u' : 'k').$to->id.'_'.bin2hex(random_bytes(3)), 'at_once' => $to->atOnce(), 'created_at' => Carbon::now()]);
        $password = $this->accounts->give($account);
        $this->log->note(Action::DoorGiven, $to->name, "$account->name in $environment->name", $by);

        return [$account, $password];
    }

    public function withdraw(DoorAccount $account, User $by): void
    {
        $this->accounts->drop($account);
        $account->delete();
        $this->log->note(Action::DoorWithdrawn, $account->owner()->name, $account->name, $by);
    }

    /**
     * Rows that accounts were sent today (UTC), and whether they are locked until tomorrow for that.
     *
     * @param  iterable<DoorAccount>  $accounts
     * @return array<int, array{int, bool}> by account
     */
    public function taken(iterable $accounts): array
    {
        $taken = $all = [];
        foreach ($accounts as $account) {
            $all[$account->environment_id] ??= $this->accounts->taken($account->environment);
            $taken[$account->id] = $all[$account->environment_id][$account->name] ?? [0, false];
        }

        return $taken;
    }

    /**
     * Brings the rights of all accounts up to date, and takes those away whose people or readers may read nothing any more.
     */
    public function align(): void
    {
        foreach (DoorAccount::query()->with('environment', 'user', 'consumer')->get() as $account) {
            if ($account->isOpen()) {
                $this->accounts->align($account);

                continue;
            }
            $this->accounts->drop($account);
            $account->delete();
        }
    }
}
