<?php

declare(strict_types=1);

namespace App\People\Provider;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Models\Environment;
use App\Models\Role;
use App\Models\User;
use App\People\People;
use App\People\PersonRefused;

/**
 * Claims of the provider → somebody who is known here, or is made so.
 */
final readonly class ProviderPeople
{
    /**
     * @param  array{role_claim?: string|null, roles?: string|null, new_role?: string|null}  $settings
     */
    public function __construct(private People $people, private AuditLog $log, private array $settings)
    {
    }

    /**
     * @param  array<string, mixed>  $claims  checked
     *
     * @throws ProviderRefused
     */
    public function of(array $claims): User
    {
        $role = $this->role($claims);
        $person = User::query()->where('provider_subject', $claims['sub'])->first() ?? $this->byMail($claims) ?? $this->create($claims, $role);
        if ($person->isOff()) {
            throw ProviderRefused::because('This person is switched off here. An administrator can switch them on again.');
        }
        if ($role !== null && $role !== $person->role) {
            try {
                $this->people->changeRole($person, $role);
            } catch (PersonRefused) {
                // The last administrator stays one, whatever the provider says.
            }
        }

        return $person;
    }

    /**
     * @param  array<string, mixed>  $claims
     */
    private function byMail(array $claims): ?User
    {
        // An address that the provider did not check may be anybody's.
        $person = ($claims['email_verified'] ?? false) === true && is_string($claims['email'] ?? null)
            ? User::query()->where('email', mb_strtolower($claims['email']))->whereNull('provider_subject')->first() : null;
        $person?->forceFill(['provider_subject' => $claims['sub']])->save();

        return $person;
    }

    /**
     * @param  array<string, mixed>  $claims
     *
     * @throws ProviderRefused
     */
    private function create(array $claims, ?Role $role): User
    {
        $email = is_string($claims['email'] ?? null) ? mb_strtolower($claims['email']) : '';
        if ($role === null) {
            throw ProviderRefused::because('The provider knows you, but nobody here does yet. Ask an administrator for an invitation.');
        }
        if (($claims['email_verified'] ?? false) !== true || filter_var($email, FILTER_VALIDATE_EMAIL) === false || strlen($email) > 190) {
            throw ProviderRefused::because('The provider does not vouch for an email address of yours.');
        }
        if (User::query()->where('email', $email)->exists()) {
            throw ProviderRefused::because("Somebody else of the provider signs in with $email already.");
        }
        $name = is_string($claims['name'] ?? null) && trim($claims['name']) !== '' ? trim($claims['name']) : $email;
        $person = User::query()->create([
            'name' => mb_substr($name, 0, 190), 'email' => $email, 'password' => bin2hex(random_bytes(32)), 'role' => $role,
            'provider_subject' => $claims['sub'], 'environment_id' => Environment::query()->orderBy('position')->value('id'),
        ]);
        $this->log->note(Action::Joined, $email, "{$role->value}, through the provider", $person);

        return $person;
    }

    /**
     * The role that the claim gives; the one for those who are new here where it gives none.
     *
     * @param  array<string, mixed>  $claims
     */
    private function role(array $claims): ?Role
    {
        $claim = (string) ($this->settings['role_claim'] ?? '');
        $values = $claim === '' ? [] : (array) ($claims[$claim] ?? []);
        $given = [];
        foreach (explode(',', (string) ($this->settings['roles'] ?? '')) as $pair) {
            [$value, $name] = array_map(trim(...), [...explode('=', $pair, 2), '']);
            $role = Role::tryFrom($name === '' ? $value : $name);
            if ($role !== null && in_array($value, $values, true)) {
                $given[$role->value] = $role;
            }
        }
        foreach (Role::cases() as $role) {
            if (isset($given[$role->value]) || $this->settings['roles'] === null && in_array($role->value, $values, true)) {
                return $role;
            }
        }
        $known = User::query()->where('provider_subject', $claims['sub'])->exists();

        return $known ? null : Role::tryFrom((string) ($this->settings['new_role'] ?? ''));
    }
}
