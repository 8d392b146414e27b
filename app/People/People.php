<?php

declare(strict_types=1);

namespace App\People;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Models\Role;
use App\Models\User;
use App\Reservoir\ReaderAccounts;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;

/**
 * Who there is, and what they may do. Somebody who is switched off is signed out everywhere at once
 * and has no account of the database; what they made stays.
 */
final readonly class People
{
    public function __construct(private Sessions $sessions, private ReaderAccounts $accounts, private AuditLog $log)
    {
    }

    /**
     * @throws PersonRefused
     */
    public function changeRole(User $person, Role $role): void
    {
        $before = $person->role;
        if ($before === $role) {
            return;
        }
        $this->change($person, ['role' => $role], $before === Role::Administrator);
        $this->log->note(Action::RoleChanged, $person->email, "{$before->value} → {$role->value}");
    }

    /**
     * @throws PersonRefused
     */
    public function switchOff(User $person): void
    {
        if ($person->isOff()) {
            return;
        }
        $this->change($person, ['off_at' => Carbon::now()], $person->role === Role::Administrator);
        $this->sessions->endAll($person);
        $this->accounts->drop($person);
        $this->log->note(Action::SwitchedOff, $person->email);
    }

    public function switchOn(User $person): void
    {
        if ($person->isOff()) {
            $person->forceFill(['off_at' => null])->save();
            $this->log->note(Action::SwitchedOn, $person->email);
        }
    }

    /**
     * Those who administer, counted while nobody else can change that, so that of two administrators
     * who demote each other at the same moment one stays.
     *
     * @param  array<string, mixed>  $to
     *
     * @throws PersonRefused
     */
    private function change(User $person, array $to, bool $losesAdministrator): void
    {
        DB::transaction(static function () use ($person, $to, $losesAdministrator): void {
            if ($losesAdministrator) {
                $others = User::query()->where('role', Role::Administrator)->whereNull('off_at')->orderBy('id')->lockForUpdate()->pluck('id');
                if ($others->diff([$person->id])->isEmpty()) {
                    throw PersonRefused::lastAdministrator();
                }
            }
            $person->forceFill($to)->save();
        });
    }
}
