<?php

declare(strict_types=1);

namespace App\People;

use App\Models\User;
use DeepSpring\Identity\PasswordRules;
use Illuminate\Support\Facades\Hash;

/**
 * Passwords of people: whether one is taken, and whether one is right.
 */
final class Passwords
{
    /** Of nobody: compared where there is no such person, so that the time tells nothing. Of the same cost as those of people. */
    public const NOBODY = '$2y$12$VjFJ.5Ftq2ZVNMinxuiIt.c7Iivju99LjooofZgLOk/5dYANJ77SO';

    /** @var array<string, mixed>|null */
    private ?array $common = null;

    public function rules(string $name, string $email): PasswordRules
    {
        $this->common ??= array_flip(array_map(strval(...), (array) file(resource_path('passwords.txt'), FILE_IGNORE_NEW_LINES)));
        $words = preg_split('/[\s@.]+/', "$name $email", -1, PREG_SPLIT_NO_EMPTY);

        return new PasswordRules($this->common, [...($words === false ? [] : $words), 'deepspring', 'saltmarsh']);
    }

    /**
     * Takes as long for somebody who does not exist.
     */
    public function isRight(?User $person, #[\SensitiveParameter] string $password): bool
    {
        $hash = $person->password ?? self::NOBODY;

        return Hash::check($password, $hash) && $person !== null;
    }
}
