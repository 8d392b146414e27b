<?php

declare(strict_types=1);

namespace App\Http;

use App\Models\Environment;
use App\Models\User;
use Illuminate\Foundation\Auth\Access\AuthorizesRequests;

abstract class Controller
{
    use AuthorizesRequests;

    protected function person(): User
    {
        $user = request()->user();

        return $user instanceof User ? $user : throw new \LogicException('Only for those who signed in.');
    }

    /**
     * The current environment.
     */
    protected function environment(): Environment
    {
        $environment = request()->attributes->get(Environment::class);

        return $environment instanceof Environment ? $environment : throw new \LogicException('Only for those who signed in.');
    }

    protected function text(string $name): string
    {
        $value = request()->input($name);

        return is_string($value) ? trim($value) : '';
    }
}
