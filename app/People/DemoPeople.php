<?php

declare(strict_types=1);

namespace App\People;

use App\Models\Environment;
use App\Models\Role;
use App\Models\User;
use Illuminate\Support\Facades\Hash;

/**
 * The three people of the demo, each with a password of their own.
 */
final readonly class DemoPeople
{
    private const PEOPLE = ['builder' => ['Ines Varga', 'ines'], 'analyst' => ['Tomas Reyl', 'tomas'], 'administrator' => ['Maren Osk', 'maren']];

    /**
     * @return User the builder
     */
    public function make(Environment $trial): User
    {
        foreach (self::PEOPLE as $role => [$name, $mail]) {
            User::query()->create(['name' => $name, 'email' => self::address($mail), 'password' => $this->password($role), 'role' => Role::from($role), 'environment_id' => $trial->id]);
        }

        return User::query()->where('role', Role::Builder)->firstOrFail();
    }

    /**
     * Who of them can sign in with the password that was made for them.
     *
     * @return list<string>
     */
    public function signIns(): array
    {
        $lines = [];
        foreach (self::PEOPLE as $role => [, $mail]) {
            $person = User::query()->where('email', self::address($mail))->first();
            $shared = (string) config('spring.demo.shared');
            if ($person !== null && $shared !== '' && Hash::check($shared, $person->password)) {
                // An earlier version made one password for all three.
                $person->forceFill(['password' => $this->password($role)])->save();
            }
            if ($person !== null && ! $person->isOff() && Hash::check($this->password($role), $person->password)) {
                $lines[] = sprintf('%-14s %-26s %s', ucfirst($person->role->value), $person->email, $this->password($role));
            }
        }

        return $lines;
    }

    private function password(string $role): string
    {
        return (string) config("spring.demo.passwords.$role") ?: bin2hex(random_bytes(12));
    }

    private static function address(string $mail): string
    {
        return "$mail@saltmarsh.example";
    }
}
