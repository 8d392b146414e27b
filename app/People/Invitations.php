<?php

declare(strict_types=1);

namespace App\People;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Models\Environment;
use App\Models\Invitation;
use App\Models\Role;
use App\Models\User;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;

/**
 * Links by which somebody chooses a password. What stands in a link is kept as a hash, so the
 * database holds no way in; a link works once.
 */
final readonly class Invitations
{
    public const INVITE_DAYS = 7;

    public const RESET_HOURS = 1;

    public function __construct(private Post $post, private Sessions $sessions, private AuditLog $log)
    {
    }

    /**
     * For the first administrator of an empty installation.
     */
    public function first(): string
    {
        Invitation::query()->where('purpose', 'first')->delete();

        return $this->make(['purpose' => 'first', 'role' => Role::Administrator, 'expires_at' => Carbon::now()->addHours(self::RESET_HOURS)]);
    }

    /**
     * @return array{string, string|null} the link, and what came of the mail; null where none is set up
     *
     * @throws PersonRefused
     */
    public function invite(string $email, string $name, Role $role, ?User $by): array
    {
        if (User::query()->where('email', $email)->exists()) {
            throw PersonRefused::taken($email);
        }
        // A newer one for the same address takes the place of the older.
        Invitation::query()->where('purpose', 'invite')->where('email', $email)->whereNull('used_at')->delete();
        $link = $this->make([
            'purpose' => 'invite', 'role' => $role, 'email' => $email, 'name' => $name === '' ? null : $name, 'made_by' => $by?->id,
            'expires_at' => Carbon::now()->addDays(self::INVITE_DAYS),
        ]);
        $this->log->note(Action::Invited, $email, $role->value, $by);

        return [$link, $this->post->invitation($email, $link, $by)];
    }

    /**
     * @return array{string, string|null} likewise
     */
    public function reset(User $person, ?User $by): array
    {
        Invitation::query()->where('purpose', 'reset')->where('user_id', $person->id)->whereNull('used_at')->delete();
        $link = $this->make(['purpose' => 'reset', 'user_id' => $person->id, 'made_by' => $by?->id, 'expires_at' => Carbon::now()->addHours(self::RESET_HOURS)]);
        $this->log->note(Action::ResetAsked, $person->email, '', $by);

        return [$link, $this->post->reset($person, $link)];
    }

    public function find(string $token): ?Invitation
    {
        $found = Invitation::query()->with('user')->where('token', self::hash($token))->whereNull('used_at')->first();
        $longest = Carbon::now()->addDays(self::INVITE_DAYS)->addMinute();

        // One that lasts longer than any was made for has seen a clock that was wrong.
        return $found === null || $found->expires_at->isPast() || $found->expires_at->greaterThan($longest) || $found->user?->isOff() === true
            || $found->purpose === 'first' && User::query()->exists() ? null : $found;
    }

    /**
     * @param  string  $email  of the first administrator; others have theirs in the invitation
     *
     * @throws PersonRefused
     */
    public function accept(Invitation $invitation, string $name, string $email, #[\SensitiveParameter] string $password): User
    {
        return DB::transaction(function () use ($invitation, $name, $email, $password): User {
            $row = Invitation::query()->whereNull('used_at')->lockForUpdate()->find($invitation->id) ?? throw PersonRefused::because('This link was used already.');
            $row->forceFill(['used_at' => Carbon::now()])->save();
            if ($row->purpose === 'reset') {
                $person = User::query()->findOrFail($row->user_id);
                $this->changePassword($person, $password);

                return $person;
            }
            $email = $row->email ?? $email;
            if (User::query()->where('email', $email)->exists()) {
                throw PersonRefused::taken($email);
            }
            $person = User::query()->create([
                'name' => $name, 'email' => $email, 'password' => $password, 'role' => $row->role ?? Role::Analyst,
                'environment_id' => Environment::query()->orderBy('position')->value('id'),
            ]);
            $this->log->note(Action::Joined, $email, $person->role->value, $person);

            return $person;
        });
    }

    /**
     * A changed password ends every session that the old one had opened.
     */
    public function changePassword(User $person, #[\SensitiveParameter] string $password, ?\App\Models\OpenSession $but = null): int
    {
        $person->forceFill(['password' => $password])->save();
        Invitation::query()->where('purpose', 'reset')->where('user_id', $person->id)->whereNull('used_at')->delete();
        $this->log->note(Action::PasswordChanged, $person->email, '', $person);

        return $this->sessions->endAll($person, $but);
    }

    public function takeBack(Invitation $invitation): void
    {
        $this->log->note(Action::InvitationTakenBack, $invitation->email ?? (string) $invitation->user?->email);
        $invitation->delete();
    }

    /**
     * @param  array<string, mixed>  $values
     */
    private function make(array $values): string
    {
        $token = rtrim(strtr(base64_encode(random_bytes(24)), '+/', '-_'), '=');
        Invitation::query()->create(['token' => self::hash($token)] + $values);

        return rtrim((string) config('app.url'), '/')."/invitations/$token";
    }

    private static function hash(string $token): string
    {
        return hash('sha256', $token);
    }
}
