<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Models\Role;
use App\Models\User;
use App\People\Groups;
use App\People\Invitations;
use App\People\People;
use App\People\PersonRefused;
use App\People\SecondFactor;

final class PersonCommand extends SpringCommand
{
    protected $signature = 'spring:person {do : list, add, role, reset, off, on, second-factor-off, join or leave} {email? : Email} {role? : analyst, builder or administrator} {--name= : Name of somebody new} {--group= : With join and leave: the group; one that is not there is made} {--json : The list for a program}';

    protected $description = 'Invites people, changes their role and groups, makes a password link, switches them off and on';

    public function work(People $people, Invitations $invitations, SecondFactor $second, Groups $groups): int
    {
        $do = (string) $this->argument('do');
        if ($do === 'list') {
            return $this->list();
        }
        if (! in_array($do, ['add', 'role', 'reset', 'off', 'on', 'second-factor-off', 'join', 'leave'], true)) {
            throw new WrongUse('person takes list, add, role, reset, off, on, second-factor-off, join or leave.');
        }
        $email = mb_strtolower(trim((string) $this->argument('email')));
        if (filter_var($email, FILTER_VALIDATE_EMAIL) === false) {
            throw new WrongUse($email === '' ? "Whose? ./spring person $do EMAIL" : "\"$email\" is not an email address.");
        }
        try {
            match ($do) {
                'add' => $this->tell($invitations->invite($email, trim((string) $this->option('name')), $this->role(), null), Invitations::INVITE_DAYS.' days'),
                'role' => $people->changeRole($this->person($email), $this->role()),
                'reset' => $this->tell($invitations->reset($this->active($email), null), Invitations::RESET_HOURS.' hour'),
                'off' => $people->switchOff($this->person($email)),
                'second-factor-off' => $second->remove($this->person($email)),
                'join' => $groups->add($groups->find($this->group()) ?? $groups->make($this->group()), $this->active($email)),
                'leave' => $groups->remove($groups->find($this->group()) ?? throw PersonRefused::because("There is no group \"{$this->group()}\"."), $this->person($email)),
                default => $people->switchOn($this->person($email)),
            };
        } catch (PersonRefused $refused) {
            $this->say($refused->getMessage());

            return self::REFUSED;
        }
        match ($do) {
            'role' => $this->say("$email is {$this->role()->value} now."),
            'off' => $this->say("$email cannot sign in any more; open sessions are ended."),
            'on' => $this->say("$email can sign in again."),
            'join' => $this->say("$email is in the group {$this->group()} now."),
            'leave' => $this->say("$email is not in the group {$this->group()} any more."),
            'second-factor-off' => $this->say("$email signs in with a password alone, until a second factor is set up again."),
            default => null,
        };

        return self::DONE;
    }

    private function list(): int
    {
        $people = User::query()->with('groups')->orderBy('name')->get()->map(static fn (User $one): array => [
            'email' => $one->email, 'name' => $one->name, 'role' => $one->role->value, 'off' => $one->isOff(), 'second_factor' => $one->hasSecondFactor(),
            'seen' => $one->seen_at?->format('Y-m-d\TH:i:s\Z'), 'groups' => $one->groups->pluck('name')->map(strval(...))->sort()->values()->all(),
        ]);
        if ($this->option('json')) {
            $this->giveLine((string) json_encode($people, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES));

            return self::DONE;
        }
        foreach ($people as $one) {
            $this->giveLine(sprintf('%-32s %-14s %-4s %-14s %s', $one['email'], $one['role'], $one['off'] ? 'off' : '', $one['second_factor'] ? 'second factor' : '', $one['name'].($one['groups'] === [] ? '' : ' ('.implode(', ', $one['groups']).')')));
        }

        return self::DONE;
    }

    /**
     * The link goes to standard output, what is said about it to a person.
     *
     * @param  array{string, string|null}  $made
     */
    private function tell(array $made, string $until): void
    {
        [$link, $mail] = $made;
        $this->say("It works once, within $until. ".($mail ?? 'No mail is set up here, so hand it over yourself.'));
        $this->giveLine($link);
    }

    private function role(): Role
    {
        $role = $this->argument('role') ?? ($this->argument('do') === 'add' ? 'analyst' : '');

        return Role::tryFrom((string) $role) ?? throw new WrongUse('The roles are analyst, builder and administrator.');
    }

    private function group(): string
    {
        $group = trim((string) $this->option('group'));

        return $group !== '' ? $group : throw new WrongUse('Which group? ./spring person '.$this->argument('do').' EMAIL --group NAME');
    }

    private function active(string $email): User
    {
        $person = $this->person($email);

        return $person->isOff() ? throw PersonRefused::because("$email is switched off. Switch them on first.") : $person;
    }

    private function person(string $email): User
    {
        return User::query()->where('email', $email)->first() ?? throw PersonRefused::because("Nobody here has the address $email.");
    }
}
